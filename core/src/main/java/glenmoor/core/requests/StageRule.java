package glenmoor.core.requests;

import glenmoor.core.conditions.Expressions.AskCondition;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * One stage of a route: who must agree, and its clock.
 *
 * @param said the stage as its definition says it, for keeping
 * @param ask who is asked
 * @param otherwise who is asked where there is nobody of those
 * @param agree how many of them must
 * @param clock when it nudges, widens and lapses, counted from its opening
 * @param standby who joins in when the clock says so
 * @param onTo who is asked once it would lapse; empty where it then ends the line
 * @param reason which decisions need one
 * @param where whether it takes place at all; nothing for always
 * @param beside whether it runs beside the stage before it
 * @param again whether it asks even those who agreed at an earlier stage
 */
public record StageRule(
    Map<String, Object> said,
    List<Deciders> ask,
    List<Deciders> otherwise,
    Agree agree,
    Clock clock,
    List<Deciders> standby,
    List<Deciders> onTo,
    ReasonOn reason,
    Optional<AskCondition> where,
    boolean beside,
    boolean again) {
  /** Whether it is about the conflicts that a line would cause. */
  public boolean settlesConflicts() {
    return ask.stream().anyMatch(Deciders.ConflictOwners.class::isInstance);
  }

  /** How many of those who are asked must agree. */
  public enum Agree {
    ANY("any"),
    ALL("all");

    private final String word;

    Agree(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** Which decisions need a reason. */
  public enum ReasonOn {
    DECLINE("decline"),
    APPROVE("approve"),
    BOTH("both"),
    NEITHER("neither");

    private final String word;

    ReasonOn(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public boolean approving() {
      return this == APPROVE || this == BOTH;
    }

    public boolean declining() {
      return this == DECLINE || this == BOTH;
    }
  }

  /**
   * Times after a stage opened.
   *
   * @param nudges when whoever has not decided is reminded, the first one first
   * @param standby when the standby approvers join in; nothing for never
   * @param lapse when it is over without a decision
   */
  public record Clock(List<Duration> nudges, Optional<Duration> standby, Duration lapse) {}
}
