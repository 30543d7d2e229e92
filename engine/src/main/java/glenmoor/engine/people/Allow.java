package glenmoor.engine.people;

import static glenmoor.engine.people.Duty.ADMINISTRATOR;
import static glenmoor.engine.people.Duty.AUDITOR;
import static glenmoor.engine.people.Duty.PEOPLE_DESK;

import glenmoor.engine.Refused;
import java.util.Arrays;
import java.util.stream.Collectors;

/** Who may do what: each use case asks here first, and what is not allowed is refused. */
public final class Allow {
  private Allow() {}

  /** Whether the actor sees everybody, or only themselves and their reports. */
  public static boolean seesEverybody(Actor actor) {
    return has(actor, ADMINISTRATOR, AUDITOR, PEOPLE_DESK);
  }

  public static void loadingFeeds(Actor actor) {
    need(actor, "load a feed", ADMINISTRATOR, PEOPLE_DESK);
  }

  public static void seeingFeeds(Actor actor) {
    need(actor, "see feeds and events", ADMINISTRATOR, AUDITOR, PEOPLE_DESK);
  }

  public static void seeingHeldChanges(Actor actor) {
    need(actor, "see held changes", ADMINISTRATOR, AUDITOR, PEOPLE_DESK);
  }

  public static void releasingHeldChanges(Actor actor) {
    need(actor, "release or drop held changes", ADMINISTRATOR, PEOPLE_DESK);
  }

  public static void definingThings(Actor actor) {
    need(actor, "load definitions", ADMINISTRATOR);
  }

  public static void seeingDefinitions(Actor actor) {
    need(actor, "see definitions", ADMINISTRATOR, AUDITOR);
  }

  public static void seeingApplications(Actor actor) {
    need(actor, "see applications and operations", ADMINISTRATOR, AUDITOR);
  }

  public static void testingApplications(Actor actor) {
    need(actor, "have applications tested", ADMINISTRATOR);
  }

  public static void mendingOperations(Actor actor) {
    need(actor, "decide on operations", ADMINISTRATOR);
  }

  public static void issuingPasscodes(Actor actor) {
    need(actor, "issue a passcode", ADMINISTRATOR);
  }

  public static void readingTheLedger(Actor actor) {
    need(actor, "read the ledger", ADMINISTRATOR, AUDITOR);
  }

  public static void seeingSignIns(Actor actor) {
    need(actor, "see sign-ins", ADMINISTRATOR, AUDITOR);
  }

  /** Whether the actor sees long work, and tokens, of others. */
  public static boolean seesAllWork(Actor actor) {
    return has(actor, ADMINISTRATOR, AUDITOR);
  }

  public static void managingSignIns(Actor actor) {
    need(actor, "manage sign-ins", ADMINISTRATOR);
  }

  public static void movingTheClock(Actor actor) {
    need(actor, "move the clock", ADMINISTRATOR);
  }

  private static boolean has(Actor actor, Duty... duties) {
    return Arrays.stream(duties).anyMatch(actor::is);
  }

  private static void need(Actor actor, String what, Duty... duties) {
    if (!has(actor, duties)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "%s may not %s: that needs the duty %s. Ask an administrator for it."
              .formatted(
                  actor.displayName(),
                  what,
                  Arrays.stream(duties).map(Duty::word).collect(Collectors.joining(" or "))));
    }
  }
}
