package glenmoor.core.provisioning;

import java.time.Duration;
import java.time.Instant;

/**
 * The life of one operation, and its only way forward.
 *
 * <pre>
 * Waiting ── try ──► Confirmed
 *    ▲  │ └────────► Fault ── by hand ────► ByHand
 *    └──┘ not now      └───── give up ────► GivenUp
 * </pre>
 *
 * <p>Waiting and Fault also end as Superseded: when later planning contradicts them, or when
 * somebody asks for a fault to be tried again. An old order is never sent again; the person is
 * planned anew from the present, which may or may not bring an order like it.
 */
public sealed interface OperationState {
  /** To be tried, from a moment on. {@code attempts} tries were made. */
  record Waiting(int attempts, Instant notBefore, String lastReason) implements OperationState {
    private OperationState tried(Happening.Tried tried, Patience patience) {
      var count = attempts + 1;
      var at = tried.at();
      return switch (tried.outcome()) {
        case Outcome.Confirmed done -> new Confirmed(count, at, done.note());
        case Outcome.Gone gone ->
            tried.order().takesAway()
                ? new Confirmed(count, at, gone.note())
                : new Superseded(at, NOBODY, gone.note() + "; planned anew");
        case Outcome.Refused refused -> new Fault(count, at, refused.reason());
        case Outcome.Unreachable away ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), patience)), away.reason());
        case Outcome.WrongCredentials shut ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), patience)), shut.reason());
        case Outcome.WrongSettings wrong ->
            new Waiting(attempts, at.plus(pause(1, tried.spread(), patience)), wrong.reason());
        case Outcome.NotNow notNow ->
            new Waiting(
                count,
                at.plus(
                    notNow
                        .after()
                        .map(patience::bounded)
                        .orElse(pause(count, tried.spread(), patience))),
                notNow.reason());
        case Outcome.Unproven unproven ->
            count >= patience.mostAttempts()
                ? new Fault(count, at, unproven.reason() + " (tried " + count + " times)")
                : new Waiting(
                    count, at.plus(pause(count, tried.spread(), patience)), unproven.reason());
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
  sealed interface Happening {
    Instant at();

    /** A try was made; {@code spread} in 0..1 moves the next one within its window. */
    record Tried(Order order, Outcome outcome, Instant at, double spread) implements Happening {}

    /** Somebody asked for it to be tried again: the person is planned anew. */
    record AskedAgain(Instant at, String by) implements Happening {}

    /** A later operation says otherwise. */
    record Overtaken(Instant at, long by) implements Happening {}

    record DoneByHand(Instant at, String note) implements Happening {}

    record LetGo(Instant at, String reason) implements Happening {}
  }

  /** An operation in this state cannot do what was asked. */
  final class CannotHappen extends RuntimeException {
    public CannotHappen(OperationState state) {
      super(
          "This operation is "
              + state.word()
              + "; only a fault can be tried again, marked as done by hand or given up, and what waits can only be tried again.");
    }
  }

  /** How long and how often to try. */
  record Patience(Duration first, Duration longest, int mostAttempts) {
    public static final Patience USUAL =
        new Patience(Duration.ofSeconds(2), Duration.ofMinutes(10), 12);

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
  default OperationState after(Happening happening, Patience patience) {
    return switch (this) {
      case Waiting waiting ->
          switch (happening) {
            case Happening.Tried tried -> waiting.tried(tried, patience);
            case Happening.AskedAgain again -> plannedAnew(again);
            case Happening.Overtaken over -> overtaken(over);
            case Happening.DoneByHand done -> throw new CannotHappen(this);
            case Happening.LetGo let -> throw new CannotHappen(this);
          };
      case Fault fault ->
          switch (happening) {
            case Happening.Tried tried -> throw new CannotHappen(this);
            case Happening.AskedAgain again -> plannedAnew(again);
            case Happening.Overtaken over -> overtaken(over);
            case Happening.DoneByHand done -> new ByHand(done.at(), done.note());
            case Happening.LetGo let -> new GivenUp(let.at(), let.reason());
          };
      case Confirmed confirmed -> throw new CannotHappen(this);
      case ByHand byHand -> throw new CannotHappen(this);
      case GivenUp givenUp -> throw new CannotHappen(this);
      case Superseded superseded -> throw new CannotHappen(this);
    };
  }

  private static OperationState plannedAnew(Happening.AskedAgain again) {
    return new Superseded(again.at(), NOBODY, "planned anew, asked for by " + again.by());
  }

  private static OperationState overtaken(Happening.Overtaken over) {
    return new Superseded(over.at(), over.by(), "operation " + over.by() + " says otherwise");
  }

  /** How long to wait after a number of tries. */
  static Duration pause(int attempts, double spread, Patience patience) {
    var doublings = Math.min(attempts - 1, 20);
    var full = Math.min(patience.first().toMillis() << doublings, patience.longest().toMillis());
    return Duration.ofMillis((long) (full * (0.5 + spread / 2)));
  }
}
