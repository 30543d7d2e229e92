package glenmoor.store.provisioning;

import glenmoor.store.Unsignalled;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code worker_replica}: the services whose workers are at work. */
public interface WorkerReplicaMapper {
  /** Shows that a service is at work. */
  @Unsignalled
  void alive(@Param("id") String id);

  /** Those that showed themselves in so many seconds, by the database's time, in order. */
  List<String> atWork(@Param("seconds") long seconds);

  void leave(@Param("id") String id);

  /** Forgets those that have been silent for an hour. */
  void forgetDead();
}
