package glenmoor.engine.provisioning;

/** Carries out what is due now, at once instead of at the next sweep. */
public interface DueWork {
  /**
   * Harmless if done twice, or by two replicas at once.
   *
   * @return for how many people something was planned
   */
  int sweep();
}
