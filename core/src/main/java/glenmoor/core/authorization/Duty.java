package glenmoor.core.authorization;

import static glenmoor.core.authorization.Permission.ASK_FOR_ANYBODY;
import static glenmoor.core.authorization.Permission.BUNDLE;
import static glenmoor.core.authorization.Permission.CUT_OFF;
import static glenmoor.core.authorization.Permission.DECIDE_DRIFT;
import static glenmoor.core.authorization.Permission.DECIDE_HELD_CHANGES;
import static glenmoor.core.authorization.Permission.DECIDE_OPERATIONS;
import static glenmoor.core.authorization.Permission.END_GRANTS;
import static glenmoor.core.authorization.Permission.EXEMPT;
import static glenmoor.core.authorization.Permission.GIVE_DIRECTLY;
import static glenmoor.core.authorization.Permission.LEAD_CAMPAIGNS;
import static glenmoor.core.authorization.Permission.LOAD_FEEDS;
import static glenmoor.core.authorization.Permission.PUSH_PEOPLE;
import static glenmoor.core.authorization.Permission.RECONCILE;
import static glenmoor.core.authorization.Permission.RELEASE_REVOKED;
import static glenmoor.core.authorization.Permission.SEE_APPLICATIONS;
import static glenmoor.core.authorization.Permission.SEE_CAMPAIGNS;
import static glenmoor.core.authorization.Permission.SEE_CONFLICTS;
import static glenmoor.core.authorization.Permission.SEE_EVERYBODY;
import static glenmoor.core.authorization.Permission.SEE_FEEDS;
import static glenmoor.core.authorization.Permission.SEE_HELD_CHANGES;
import static glenmoor.core.authorization.Permission.SEE_LETTERS;
import static glenmoor.core.authorization.Permission.SEE_PLAYBOOKS;
import static glenmoor.core.authorization.Permission.SEE_PORTFOLIOS;
import static glenmoor.core.authorization.Permission.SEE_REQUESTS;
import static glenmoor.core.authorization.Permission.TELL_USE;
import static glenmoor.core.authorization.Permission.TEND_PORTFOLIOS;
import static glenmoor.core.authorization.Permission.TEST_APPLICATIONS;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What somebody was made responsible for. Without any, one sees oneself and one's reports. */
public enum Duty {
  /** May everything. */
  ADMINISTRATOR("administrator", Scope.Kind.EVERYTHING, EnumSet.allOf(Permission.class)),
  /** Sees everything and changes nothing. */
  AUDITOR("auditor", Scope.Kind.EVERYTHING, seeing()),
  /** Brings what HR knows of people. */
  PEOPLE_DESK(
      "people-desk",
      Scope.Kind.EVERYTHING,
      EnumSet.of(
          SEE_EVERYBODY,
          LOAD_FEEDS,
          SEE_FEEDS,
          SEE_HELD_CHANGES,
          DECIDE_HELD_CHANGES,
          CUT_OFF,
          ASK_FOR_ANYBODY,
          SEE_LETTERS,
          SEE_PLAYBOOKS)),
  /** A program that pushes the people of a source by SCIM, and may nothing else. */
  SOURCE_CLIENT("source-client", Scope.Kind.EVERYTHING, EnumSet.of(PUSH_PEOPLE)),
  /** Answers for one application. */
  APPLICATION_OWNER(
      "application-owner",
      Scope.Kind.APPLICATION,
      EnumSet.of(
          SEE_APPLICATIONS,
          TEST_APPLICATIONS,
          RECONCILE,
          DECIDE_DRIFT,
          SEE_REQUESTS,
          TELL_USE,
          RELEASE_REVOKED)),
  /** Chooses what is in one portfolio, and decides on what is asked of it. */
  STEWARD(
      "steward",
      Scope.Kind.PORTFOLIO,
      EnumSet.of(SEE_PORTFOLIOS, TEND_PORTFOLIOS, BUNDLE, GIVE_DIRECTLY, END_GRANTS, SEE_REQUESTS)),
  /** Builds packages and offers of what is in one portfolio. */
  BUNDLER("bundler", Scope.Kind.PORTFOLIO, EnumSet.of(SEE_PORTFOLIOS, BUNDLE)),
  /** Answers for the risk of one conflict rule. */
  CONFLICT_OWNER("conflict-owner", Scope.Kind.CONFLICT_RULE, EnumSet.of(SEE_CONFLICTS, EXEMPT)),
  /** Launches the rounds of one campaign, and sees to it that they end. */
  CAMPAIGN_LEAD("campaign-lead", Scope.Kind.CAMPAIGN, EnumSet.of(SEE_CAMPAIGNS, LEAD_CAMPAIGNS)),
  /** Mends the faults of one application. */
  FIXER(
      "fixer",
      Scope.Kind.APPLICATION,
      EnumSet.of(SEE_APPLICATIONS, TEST_APPLICATIONS, RECONCILE, DECIDE_OPERATIONS));

  private final String word;
  private final Scope.Kind within;
  private final Set<Permission> permissions;

  Duty(String word, Scope.Kind within, Set<Permission> permissions) {
    this.word = word;
    this.within = within;
    this.permissions = permissions;
  }

  private static Set<Permission> seeing() {
    return Arrays.stream(Permission.values())
        .filter(each -> !each.changes())
        .collect(Collectors.toSet());
  }

  public String word() {
    return word;
  }

  /** What it is given for: everything, or one thing of this kind. */
  public Scope.Kind within() {
    return within;
  }

  public boolean holds(Permission permission) {
    return permissions.contains(permission);
  }

  public static Optional<Duty> ofWord(String word) {
    return Arrays.stream(values()).filter(duty -> duty.word.equals(word)).findFirst();
  }
}
