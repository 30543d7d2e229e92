package glenmoor.core.provisioning;

import java.time.Duration;
import java.util.Optional;

/** What came of one try to carry out an operation. */
public sealed interface Outcome {
  /**
   * Done, and seen in the application afterwards.
   *
   * @param nativeId the application's own identity for the account; empty if it has none
   * @param note what is worth knowing, such as an account adopted; empty if nothing
   * @param mark of a password that was set: what is another one as soon as the password is; empty
   *     where the application shows nothing of it
   */
  record Confirmed(String nativeId, String note, String mark) implements Outcome {
    public Confirmed(String nativeId, String note) {
      this(nativeId, note, "");
    }
  }

  /**
   * The application says, in so many words, that it has no such account. What only takes away is
   * done by that; whatever gives needs the account to be made anew.
   */
  record Gone(String note) implements Outcome {}

  /**
   * Not now; {@code after} is what the application asked for, if it did. Waits as long as it takes.
   */
  record NotNow(String reason, Optional<Duration> after) implements Outcome {}

  /** The application said yes, and reading back shows no change: tried again, but not for ever. */
  record Unproven(String reason) implements Outcome {}

  /** The application could not be reached at all: a failure of the connection, not of one entry. */
  record Unreachable(String reason) implements Outcome {}

  /** The application does not let Glenmoor itself in, or not far enough: no operation's fault. */
  record WrongCredentials(String reason) implements Outcome {}

  /** What the definition says of the way to the application does not fit it. */
  record WrongSettings(String reason) implements Outcome {}

  /**
   * People do it: it becomes a task.
   *
   * @param what what is to be done, in plain words
   */
  record ForSomebody(String what) implements Outcome {}

  /**
   * It waits to be handed over, or was and is not answered yet: the application says later what
   * came of it. No failure of anybody.
   */
  record Pending(String reason) implements Outcome {}

  /** Never like this: trying again changes nothing until somebody mends something. */
  record Refused(String reason) implements Outcome {}

  /** What there is to say of it; empty where it was confirmed without a note. */
  default String sentence() {
    return switch (this) {
      case Confirmed done -> done.note();
      case Gone gone -> gone.note();
      case NotNow later -> later.reason();
      case Unproven unproven -> unproven.reason();
      case Unreachable away -> away.reason();
      case WrongCredentials shut -> shut.reason();
      case WrongSettings wrong -> wrong.reason();
      case ForSomebody somebody -> somebody.what();
      case Pending pending -> pending.reason();
      case Refused refused -> refused.reason();
    };
  }
}
