package glenmoor.core.provisioning;

import glenmoor.core.jobs.GrowingPause;
import java.time.Duration;
import java.time.Instant;

/**
 * The life of one operation, and its only way forward.
 *
 * <pre>
 * Waiting ── try ──► Confirmed
 *    ▲  │ ├────────► Fault ──┬─ by hand ──► ByHand
 *    └──┘ └────────► Task ───┴─ give up ──► GivenUp
 *  not now
 * </pre>
 *
 * <p>Waiting, Fault and Task also end as Superseded: when later planning contradicts them, or when
 * somebody asks for a fault to be tried again. An old order is never sent again; the person is
 * planned anew from the present, which may or may not bring an order like it.
 */
public sealed interface OperationState {
  /** To be tried, from a moment on. {@code attempts} tries were made. */
  record Waiting(int attempts, Instant notBefore, String lastReason) implements OperationState {
    private OperationState tried(Transition.Tried tried, RetryPolicy retryPolicy) {
      var count = attempts + 1;
      var at = tried.at();
      return switch (tried.outcome()) {
        case Outcome.Confirmed done -> new Confirmed(count, at, done.note());
        case Outcome.Gone gone ->
            tried.command().takesAway()
                ? new Confirmed(count, at, gone.note())
                : new Superseded(at, NOBODY, gone.note() + "; planned anew");
        case Outcome.ForSomebody somebody -> new Task(at, somebody.what());
        case Outcome.Pending pending ->
            new Waiting(attempts, at.plus(retryPolicy.longest()), pending.reason());
        case Outcome.Refused refused -> new Fault(count, at, refused.reason());
        case Outcome.Unreachable away ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), retryPolicy)), away.reason());
        case Outcome.WrongCredentials shut ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), retryPolicy)), shut.reason());
        case Outcome.WrongSettings wrong ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), retryPolicy)), wrong.reason());
        case Outcome.NotNow notNow ->
            new Waiting(
                count,
                at.plus(
                    notNow
                        .after()
                        .map(retryPolicy::bounded)
                        .orElse(pause(count, tried.spread(), retryPolicy))),
                notNow.reason());
        case Outcome.Unproven unproven ->
            count >= retryPolicy.mostAttempts()
                ? new Fault(count, at, unproven.reason() + " (tried " + count + " times)")
                : new Waiting(
                    count, at.plus(pause(count, tried.spread(), retryPolicy)), unproven.reason());
      };
    }
  }

  /** Carried out and seen in the application. */
  record Confirmed(int attempts, Instant at, String note) implements OperationState {}

  /** Gave up trying; a task for the application's fixers. */
  record Fault(int attempts, Instant at, String reason) implements OperationState {}

  /** Somebody has to do it, because no connector can; {@code what} says what. */
  record Task(Instant at, String what) implements OperationState {}

  /** Somebody did it in the application by hand, and says so. */
  record ByHand(Instant at, String note) implements OperationState {}

  /** Somebody decided that it need not be done, and says why. */
  record GivenUp(Instant at, String reason) implements OperationState {}

  /**
   * Overtaken: it is never sent again.
   *
   * @param by the operation that says otherwise, or {@link #NOBODY} where the person is planned
   *     anew
   */
  record Superseded(Instant at, long by, String reason) implements OperationState {}

  /** In the place of an operation that says otherwise: there is none. */
  long NOBODY = 0;

  /** What happens to an operation. */
  sealed interface Transition {
    Instant at();

    /** A try was made; {@code spread} in 0..1 moves the next one within its window. */
    record Tried(ProvisioningCommand command, Outcome outcome, Instant at, double spread)
        implements Transition {}

    /** Somebody asked for it to be tried again: the person is planned anew. */
    record AskedAgain(Instant at, String by) implements Transition {}

    /** A later operation says otherwise. */
    record Overtaken(Instant at, long by) implements Transition {}

    record DoneByHand(Instant at, String note) implements Transition {}

    record LetGo(Instant at, String reason) implements Transition {}
  }

  /** An operation in this state cannot do what was asked. */
  final class CannotHappen extends RuntimeException {
    public CannotHappen(OperationState state) {
      super(
          "This operation is "
              + state.word()
              + "; only a fault or a task can be tried again, marked as done by hand or given up, and what waits can only be tried again.");
    }
  }

  /** How long and how often to try. */
  record RetryPolicy(Duration first, Duration longest, int mostAttempts) {
    public static final RetryPolicy USUAL =
        new RetryPolicy(Duration.ofSeconds(2), Duration.ofMinutes(10), 12);

    /** What an application asks for is kept, but never below a second nor above an hour. */
    Duration bounded(Duration asked) {
      var least = Duration.ofSeconds(1);
      var most = Duration.ofHours(1);
      return asked.compareTo(least) < 0 ? least : asked.compareTo(most) > 0 ? most : asked;
    }
  }

  default String word() {
    return switch (this) {
      case Waiting w -> "waiting";
      case Confirmed c -> "confirmed";
      case Fault f -> "fault";
      case Task t -> "task";
      case ByHand b -> "by-hand";
      case GivenUp g -> "given-up";
      case Superseded s -> "superseded";
    };
  }

  /**
   * Moves an operation on.
   *
   * <p>An application that cannot be reached, does not let Glenmoor in, or says "not now" makes no
   * fault however long it takes; the waits double, spread so that many operations do not come back
   * in the same second. Only what was refused, or cannot be proved after many tries, is one.
   *
   * @throws CannotHappen if the state does not allow it
   */
  default OperationState after(Transition transition, RetryPolicy retryPolicy) {
    return switch (this) {
      case Waiting waiting ->
          switch (transition) {
            case Transition.Tried tried -> waiting.tried(tried, retryPolicy);
            case Transition.AskedAgain again -> plannedAnew(again);
            case Transition.Overtaken over -> overtaken(over);
            case Transition.DoneByHand done -> throw new CannotHappen(this);
            case Transition.LetGo let -> throw new CannotHappen(this);
          };
      case Fault fault ->
          switch (transition) {
            case Transition.Tried tried -> throw new CannotHappen(this);
            case Transition.AskedAgain again -> plannedAnew(again);
            case Transition.Overtaken over -> overtaken(over);
            case Transition.DoneByHand done -> new ByHand(done.at(), done.note());
            case Transition.LetGo let -> new GivenUp(let.at(), let.reason());
          };
      case Task task ->
          switch (transition) {
            case Transition.Tried tried -> throw new CannotHappen(this);
            case Transition.AskedAgain again -> plannedAnew(again);
            case Transition.Overtaken over -> overtaken(over);
            case Transition.DoneByHand done -> new ByHand(done.at(), done.note());
            case Transition.LetGo let -> new GivenUp(let.at(), let.reason());
          };
      case Confirmed confirmed -> throw new CannotHappen(this);
      case ByHand byHand -> throw new CannotHappen(this);
      case GivenUp givenUp -> throw new CannotHappen(this);
      case Superseded superseded -> throw new CannotHappen(this);
    };
  }

  private static OperationState plannedAnew(Transition.AskedAgain again) {
    return new Superseded(again.at(), NOBODY, "planned anew, asked for by " + again.by());
  }

  private static OperationState overtaken(Transition.Overtaken over) {
    return new Superseded(over.at(), over.by(), "operation " + over.by() + " says otherwise");
  }

  /** How long to wait after a number of tries. */
  static Duration pause(int attempts, double spread, RetryPolicy retryPolicy) {
    var full = new GrowingPause(retryPolicy.first(), retryPolicy.longest()).after(attempts - 1);
    return Duration.ofMillis((long) (full.toMillis() * (0.5 + spread / 2)));
  }
}
