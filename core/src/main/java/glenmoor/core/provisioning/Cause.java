package glenmoor.core.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.Revocation;
import glenmoor.core.people.Standing;

/**
 * What a planned change follows from.
 *
 * @param word as it is stored, such as {@code revocation:17}, {@code request-line:4} or {@code
 *     birthright:everyone@32}; empty where only what made the planning due can say it
 * @param byFacts whether it follows from the person's facts or dates, so that their latest HR event
 *     is behind it
 * @param standing whether it was so before: then a repair, a change of definitions or the end of a
 *     cut-off, if that made the planning due, is the cause
 */
public record Cause(String word, boolean byFacts, boolean standing) {
  /** What made the planning due. */
  public static final Cause TRIGGER = new Cause("", false, true);

  /** A fact behind a mapping or a rule. */
  public static final Cause FACTS = new Cause("facts", true, true);

  static final Cause HOLD_OVER = new Cause("hold-over", false, false);

  static Cause of(Revocation revocation) {
    return new Cause("revocation:" + revocation.id(), false, false);
  }

  static Cause of(AccountOrder.Kind order) {
    return new Cause("order:" + order.word(), false, false);
  }

  static Cause of(Standing standing) {
    return new Cause("standing:" + standing.word(), true, standing == Standing.ACTIVE);
  }

  static Cause cutOff() {
    return new Cause("cut-off", true, false);
  }

  /** What a grant rests on, for what begins by it. */
  static Cause begins(Grant grant, Catalogue catalogue) {
    var known = grant.id() != 0;
    return switch (grant.basis()) {
      case BIRTHRIGHT -> birthright(grant, catalogue, known);
      case REQUEST ->
          GrantedBy.of(grant.basisKey())
              .map(by -> new Cause("request-line:" + by.line(), false, known))
              .orElse(new Cause("grant:" + grant.id(), false, known));
      case DIRECT ->
          GrantedBy.of(grant.basisKey())
              .map(by -> new Cause("grant:" + grant.id(), false, known))
              .orElse(new Cause(grant.basisKey(), false, known));
      case DISCOVERED -> new Cause(grant.basisKey(), false, known);
    };
  }

  /**
   * That a grant is over, for what ends by it.
   *
   * @param byFacts whether it ends by what is known of the person now, and not by a date or a
   *     decision before
   */
  static Cause ends(Grant grant, boolean byFacts, Catalogue catalogue) {
    return grant.basis() == Grant.Basis.BIRTHRIGHT
        ? birthright(grant, catalogue, false)
        : new Cause("grant:" + grant.id(), byFacts, false);
  }

  private static Cause birthright(Grant grant, Catalogue catalogue, boolean known) {
    return new Cause(
        "birthright:%s@%d".formatted(grant.basisKey(), catalogue.revision()), true, known);
  }

  /**
   * The same as it is stored.
   *
   * @param trigger what made the planning due, such as {@code drift:4} or {@code date}
   */
  public String word(String trigger) {
    var back = trigger.startsWith("brought-back:");
    return word.isEmpty() || standing && (back || overrides(trigger)) ? trigger : word;
  }

  /** Whether the person's latest HR event is behind it. */
  public boolean byEvent(String trigger) {
    return byFacts && !overrides(trigger) && !word.isEmpty();
  }

  private boolean overrides(String trigger) {
    return trigger.startsWith("definitions") || trigger.startsWith("drift:");
  }
}
