package glenmoor.store;

/** Numbers for services on one database: the next one each time a service starts. */
public interface ReplicaMapper {
  void raise();

  int last();
}
