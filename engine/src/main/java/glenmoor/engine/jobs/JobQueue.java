package glenmoor.engine.jobs;

/** Where work waits until a replica takes it up, by {@link JobRunner#run}. */
public interface JobQueue {
  /** Adds work; inside a transaction it is there once that is committed. */
  void add(long work);
}
