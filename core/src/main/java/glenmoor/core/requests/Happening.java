package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import java.util.Set;

/** What a move brought about, for letters and the record. Stages are numbered from 0. */
public sealed interface Happening {
  /**
   * People are asked now who were not before.
   *
   * @param who they are; empty where there is nobody, and administrators have to see to it
   */
  record Asked(int stage, Set<PersonId> who, Why why) implements Happening {}

  /** Why somebody is asked. */
  enum Why {
    OPENED,
    STANDBY,
    WENT_ON,
    REPLACED,
    PASSED_ON
  }

  /** Those who have not decided are reminded. */
  record Nudged(int stage, Set<PersonId> who) implements Happening {}

  /** A stage is over. */
  record StageSettled(int stage, StageState.Settled how) implements Happening {}

  /** The line is over. */
  record LineEnded(LineState.Ended how) implements Happening {}
}
