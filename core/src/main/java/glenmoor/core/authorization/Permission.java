package glenmoor.core.authorization;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/**
 * One thing that not everybody may do. Each use case names the one it needs; what has no permission
 * here is everybody's: to see oneself and one's reports, and to sign in and out.
 */
public enum Permission {
  SEE_EVERYBODY("see everybody", false),
  SEE_WORK_LIST("see the work list", false),
  LOAD_FEEDS("load a feed", true),
  PUSH_PEOPLE("push people by SCIM", true),
  SEE_FEEDS("see feeds and events", false),
  SEE_HELD_CHANGES("see held changes", false),
  DECIDE_HELD_CHANGES("release or drop held changes", true),
  LOAD_DEFINITIONS("load definitions", true),
  SEE_DEFINITIONS("see definitions", false),
  SEE_APPLICATIONS("see applications and operations", false),
  TEST_APPLICATIONS("have applications tested", true),
  DECIDE_OPERATIONS("decide on operations", true),
  TELL_USE("tell when access was used", true),
  RECONCILE("have applications reconciled", true),
  DECIDE_DRIFT("decide on drift", true),
  CUT_OFF("cut somebody off, or bring them back", true),
  ISSUE_PASSCODES("issue a passcode", true),
  SEE_LETTERS("see letters and other messages", false),
  SEND_LETTERS("send letters again", true),
  SEE_PLAYBOOKS("see playbooks and their runs", false),
  PLAY_PLAYBOOKS("begin, hold and settle runs of playbooks", true),
  SEE_PORTFOLIOS("see a portfolio with its packages and offers", false),
  TEND_PORTFOLIOS("choose what is in a portfolio", true),
  BUNDLE("build packages and offers of a portfolio", true),
  SEE_REQUESTS("see the requests of everybody", false),
  ASK_FOR_ANYBODY("ask for access for anybody", true),
  DECIDE_IN_PLACE("decide on requests in another's place", true),
  SEE_CONFLICTS("see conflicts and exemptions", false),
  EXEMPT("exempt somebody from a conflict rule", true),
  SEE_CAMPAIGNS("see campaigns and what was decided in them", false),
  LEAD_CAMPAIGNS("launch and lead campaigns", true),
  RELEASE_REVOKED("let a rule give back what was revoked", true),
  GIVE_DIRECTLY("give somebody an offer directly", true),
  END_GRANTS("end what somebody was given", true),
  READ_LEDGER("read the ledger", false),
  SEE_SIGN_INS("see sign-ins, duties and tokens", false),
  MANAGE_SIGN_INS("manage sign-ins and duties", true),
  SEE_ALL_WORK("see the work of others", false),
  CANCEL_WORK("cancel the work of others", true),
  MOVE_CLOCK("move the clock", true),
  RELEASE_INSTALLATION("let an installation act, or keep it quiet", true);

  private final String sentence;
  private final boolean changes;

  Permission(String sentence, boolean changes) {
    this.sentence = sentence;
    this.changes = changes;
  }

  /** The word of it in the API and in tokens, such as {@code load-feeds}. */
  public String word() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** What one may do with it, after "may". */
  public String sentence() {
    return sentence;
  }

  /** Whether anything is changed with it, or only seen. */
  public boolean changes() {
    return changes;
  }

  public static Optional<Permission> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word().equals(word)).findFirst();
  }
}
