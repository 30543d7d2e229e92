package glenmoor.core.provisioning;

import java.time.Duration;
import java.time.Instant;

/**
 * The life of one operation, and its only way forward.
 *
 * <pre>
 * Waiting ── try ──► Confirmed
 *    ▲  │ └────────► Fault ── try again ──► Waiting
 *    └──┘ not now      ├───── by hand ────► ByHand
 *                      └───── give up ────► GivenUp
 * </pre>
 */
public sealed interface OperationState {
  /** To be tried, from a moment on. {@code attempts} tries were made. */
  record Waiting(int attempts, Instant notBefore, String lastReason) implements OperationState {
    private OperationState tried(Happening.Tried tried, Patience patience) {
      var count = attempts + 1;
      var at = tried.at();
      return switch (tried.outcome()) {
        case Outcome.Confirmed done -> new Confirmed(count, at, done.note());
        case Outcome.Refused refused -> new Fault(count, at, refused.reason());
        case Outcome.Unreachable away ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), patience)), away.reason());
        case Outcome.NotNow notNow ->
            count >= patience.mostAttempts()
                ? new Fault(count, at, notNow.reason() + " (tried " + count + " times)")
                : new Waiting(
                    count,
                    at.plus(notNow.after().orElse(pause(count, tried.spread(), patience))),
                    notNow.reason());
      };
    }
  }

  /** Carried out and seen in the application. */
  record Confirmed(int attempts, Instant at, String note) implements OperationState {}

  /** Gave up trying; a task for the application's fixers. */
  record Fault(int attempts, Instant at, String reason) implements OperationState {}

  /** Somebody did it in the application by hand, and says so. */
  record ByHand(Instant at, String note) implements OperationState {}

  /** Somebody decided that it need not be done, and says why. */
  record GivenUp(Instant at, String reason) implements OperationState {}

  /** What happens to an operation. */
  sealed interface Happening {
    Instant at();

    /** A try was made; {@code spread} in 0..1 moves the next one within its window. */
    record Tried(Outcome outcome, Instant at, double spread) implements Happening {}

    record AskedAgain(Instant at) implements Happening {}

    record DoneByHand(Instant at, String note) implements Happening {}

    record LetGo(Instant at, String reason) implements Happening {}
  }

  /** An operation in this state cannot do what was asked. */
  final class CannotHappen extends RuntimeException {
    public CannotHappen(OperationState state) {
      super(
          "This operation is "
              + state.word()
              + "; only a fault can be tried again, marked as done by hand or given up.");
    }
  }

  /** How long and how often to try. */
  record Patience(Duration first, Duration longest, int mostAttempts) {
    public static final Patience USUAL =
        new Patience(Duration.ofSeconds(2), Duration.ofMinutes(10), 12);
  }

  default String word() {
    return switch (this) {
      case Waiting w -> "waiting";
      case Confirmed c -> "confirmed";
      case Fault f -> "fault";
      case ByHand b -> "by-hand";
      case GivenUp g -> "given-up";
    };
  }

  /**
   * Moves an operation on.
   *
   * <p>An application that cannot be reached does not use up tries: the queue waits for it, however
   * long it takes. One that answers "not now" does, with waits that double, spread so that many
   * operations do not come back in the same second.
   *
   * @throws CannotHappen if the state does not allow it
   */
  default OperationState after(Happening happening, Patience patience) {
    return switch (this) {
      case Waiting waiting ->
          switch (happening) {
            case Happening.Tried tried -> waiting.tried(tried, patience);
            case Happening.AskedAgain again -> new Waiting(0, again.at(), waiting.lastReason());
            case Happening.DoneByHand done -> throw new CannotHappen(this);
            case Happening.LetGo let -> throw new CannotHappen(this);
          };
      case Fault fault ->
          switch (happening) {
            case Happening.Tried tried -> throw new CannotHappen(this);
            case Happening.AskedAgain again -> new Waiting(0, again.at(), fault.reason());
            case Happening.DoneByHand done -> new ByHand(done.at(), done.note());
            case Happening.LetGo let -> new GivenUp(let.at(), let.reason());
          };
      case Confirmed confirmed -> throw new CannotHappen(this);
      case ByHand byHand -> throw new CannotHappen(this);
      case GivenUp givenUp -> throw new CannotHappen(this);
    };
  }

  /** How long to wait after a number of tries. */
  static Duration pause(int attempts, double spread, Patience patience) {
    var doublings = Math.min(attempts - 1, 20);
    var full = Math.min(patience.first().toMillis() << doublings, patience.longest().toMillis());
    return Duration.ofMillis((long) (full * (0.5 + spread / 2)));
  }
}
