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
   */
  record Confirmed(String nativeId, String note) implements Outcome {}

  /** Not now; {@code after} is what the application asked for, if it did. */
  record NotNow(String reason, Optional<Duration> after) implements Outcome {}

  /** The application could not be reached at all. */
  record Unreachable(String reason) implements Outcome {}

  /** Never like this: trying again changes nothing until somebody mends something. */
  record Refused(String reason) implements Outcome {}
}
