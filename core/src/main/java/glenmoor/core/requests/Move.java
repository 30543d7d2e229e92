package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.Optional;

/** What can happen to a line that waits for somebody to agree. */
public sealed interface Move {
  /** Its first stage opens. */
  record Begin() implements Move {}

  /**
   * Somebody agrees.
   *
   * @param by as whom, of those who are asked; nothing for an administrator in the place of all
   */
  record Approve(Optional<PersonId> by, String reason) implements Move {}

  /** Somebody does not; the same of whom. */
  record Decline(Optional<PersonId> by, String reason) implements Move {}

  /** Somebody who is asked wants to wait. */
  record Hold(PersonId by, Instant until, String reason) implements Move {}

  /** Somebody who is asked goes on before the wait is over. */
  record GoOn(PersonId by) implements Move {}

  /** Somebody who is asked has somebody else decide in their place. */
  record PassOn(PersonId by, PersonId to, String reason) implements Move {}

  /** Time has passed, or who is who has changed. */
  record Look() implements Move {}

  /** Whoever asked wants it no more. */
  record Withdraw(String reason) implements Move {}

  /** It can come to nothing any more. */
  record Drop(String reason) implements Move {}
}
