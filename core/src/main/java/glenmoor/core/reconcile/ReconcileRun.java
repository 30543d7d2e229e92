package glenmoor.core.reconcile;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * One comparison of an application with what is expected of it.
 *
 * @param state running, done or failed
 * @param work the long work that did it
 * @param accounts how many the application listed
 * @param memberships how many it listed of rights that are defined
 * @param passedOver accounts that were not compared because something is under way for them
 * @param drifts differences that were open when it ended
 * @param sentence why it failed
 */
public record ReconcileRun(
    long id,
    String application,
    String state,
    String askedBy,
    long work,
    Instant startedAt,
    @Nullable Instant endedAt,
    int accounts,
    int memberships,
    int passedOver,
    int drifts,
    String sentence) {
  private static final int LONGEST = 1_000;

  /** As it is when it has ended well. */
  public ReconcileRun done(Instant at, int accounts, int memberships, int passedOver, int drifts) {
    return ended("done", at, accounts, memberships, passedOver, drifts, "");
  }

  /** As it is when it could not be done; a long sentence is cut. */
  public ReconcileRun failed(Instant at, String why) {
    return ended(
        "failed", at, 0, 0, 0, 0, why.length() > LONGEST ? why.substring(0, LONGEST) : why);
  }

  private ReconcileRun ended(
      String how,
      Instant at,
      int accounts,
      int memberships,
      int passedOver,
      int drifts,
      String why) {
    return new ReconcileRun(
        id,
        application,
        how,
        askedBy,
        work,
        startedAt,
        at,
        accounts,
        memberships,
        passedOver,
        drifts,
        why);
  }
}
