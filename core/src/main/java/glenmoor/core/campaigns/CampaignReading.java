package glenmoor.core.campaigns;

import glenmoor.core.access.RolePackage;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.campaigns.Campaign.Closing;
import glenmoor.core.campaigns.Campaign.Judged;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.HoldingCondition;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.people.FactKind;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads what a definition says of a campaign, and what an offer says of how it is reviewed. */
public final class CampaignReading {
  private static final int USUAL_DAYS = 14;
  private static final int MOST_DAYS = 180;
  private static final int MOST_ANSWER = 30;
  private static final String SIX = "0 6 ";

  /** Rhythms that have a word; everything else is written as crontab has it. */
  private static final Map<String, String> RHYTHMS =
      Map.of(
          "weekly", SIX + "* * 1",
          "monthly", SIX + "1 * *",
          "quarterly", SIX + "1 1,4,7,10 *",
          "half-yearly", SIX + "1 1,7 *",
          "yearly", SIX + "1 1 *");

  private CampaignReading() {}

  static Optional<Campaign> of(String key, Reading reading, Defined known) {
    var reviewers = reviewers(reading.text("reviewers"), "reviewers", reading, known);
    if (reviewers.isEmpty() && !reading.has("reviewers")) {
      reading.problem(
          reading.place("campaign"),
          "reviewers is missing: say who judges, one of %s.".formatted(Reviewers.ALL));
    }
    return read(
        key,
        reading.text("name", key),
        judged(reading),
        reviewers,
        Optional.empty(),
        reading,
        known);
  }

  /**
   * How what an offer gave is reviewed: a campaign over the package, with all that a campaign can
   * say but what is judged. Where nobody is named, the stewards of its portfolio judge, and the
   * line managers where it is in none.
   *
   * @param name what the offer is called
   * @param gives the package that is offered
   * @param review what the offer says under {@code review}
   */
  public static Optional<Campaign> ofOffer(
      String offer, String name, RolePackage gives, Reading review, Defined known) {
    if (!review.has("rhythm") && !review.has("on-move")) {
      review.problem(
          review.place("rhythm"),
          "rhythm is missing: say how often it is reviewed: weekly, monthly, quarterly, half-yearly or yearly, or as crontab has it.");
    }
    var reviewers = reviewers(review.text("reviewers"), "reviewers", review, known);
    if (reviewers.isEmpty() && !review.has("reviewers")) {
      reviewers =
          Optional.of(
              gives.portfolio().isEmpty()
                  ? new Reviewers.LineManagers()
                  : new Reviewers.Stewards());
    }
    reviewers
        .filter(who -> who instanceof Reviewers.Stewards && gives.portfolio().isEmpty())
        .ifPresent(who ->
            review.problem(
                review.place("reviewers"),
                "The package %s is in no portfolio, so it has no stewards: say who judges."
                    .formatted(gives.key())));
    return read(
        Campaign.OF_OFFER + offer,
        name,
        EnumSet.of(Judged.PACKAGES),
        reviewers,
        Optional.of(new Campaign.Offered(offer, gives.key())),
        review,
        known);
  }

  private static Optional<Campaign> read(
      String key,
      String name,
      Set<Judged> judged,
      Optional<Reviewers> reviewers,
      Optional<Campaign.Offered> offered,
      Reading reading,
      Defined known) {
    reviewers.ifPresent(who -> fits(who, judged, "reviewers", reading));
    var second = reviewers(reading.text("second"), "second", reading, known);
    second.ifPresent(who -> secondFits(who, reading));
    var days = days("days", USUAL_DAYS, 1, MOST_DAYS, reading);
    var escalate = reading.days("escalate", 0);
    var nudges =
        reading.texts("nudge").stream()
            .flatMap(text -> dayOf(text, reading).stream())
            .filter(day -> before(day, days, "nudge", reading))
            .sorted()
            .distinct()
            .toList();
    if (escalate > 0) {
      before(escalate, days, "escalate", reading);
    }
    var peers =
        reading.texts("peers").stream()
            .filter(text -> {
              var there = known.all(FactKind.class).containsKey(text.value());
              if (!there) {
                reading.problem(text.place(), "There is no fact “%s”.".formatted(text.value()));
              }
              return there;
            })
            .map(Tree.Text::value)
            .toList();
    var compiling = new Compiling(reading, known);
    return reviewers.map(who ->
        new Campaign(
            key,
            name,
            judged,
            offered,
            reading.has("people") ? compiling.condition("people") : Optional.<Condition>empty(),
            reading.has("holdings")
                ? compiling.holdingCondition("holdings")
                : Optional.<HoldingCondition>empty(),
            reading.days("held", 0),
            reading.days("moved", 0),
            who,
            second,
            reviewers(reading.text("otherwise"), "otherwise", reading, known)
                .filter(other -> otherwiseFits(other, reading)),
            peers,
            rhythm(reading),
            reading.yesNo("on-move"),
            days,
            nudges.isEmpty() && !reading.has("nudge") ? List.of(Math.max(1, days / 2)) : nudges,
            escalate,
            reading.choice("closing", Closing.REVOKE, Closing::word),
            days("answer", 0, 0, MOST_ANSWER, reading),
            LetterKind.named("waits-letter", reading, known),
            LetterKind.named("late-letter", reading, known),
            LetterKind.named("revoked-letter", reading, known)));
  }

  private static Set<Judged> judged(Reading reading) {
    var judged = reading.choices("judge", Judged.class, Judged::word);
    return judged.isEmpty() ? EnumSet.of(Judged.ENTITLEMENTS) : judged;
  }

  private static int days(String key, int otherwise, int least, int most, Reading reading) {
    var days = reading.days(key, otherwise);
    if (days < least || days > most) {
      reading.problem(
          reading.place(key),
          "%s is %d days; say from %d to %d.".formatted(key, days, least, most));
    }
    return Math.clamp(days, least, most);
  }

  private static Optional<Integer> dayOf(Tree.Text text, Reading reading) {
    var days = Reading.days(text.value());
    if (days.isEmpty()) {
      reading.problem(
          text.place(), "“%s” is no number of days; write it as 7 days.".formatted(text.value()));
    }
    return days;
  }

  private static boolean before(int day, int days, String key, Reading reading) {
    if (day < 1 || day >= days) {
      reading.problem(
          reading.place(key),
          "%s is after %d days, and the round is over after %d: say from 1 to %d days."
              .formatted(key, day, days, days - 1));
      return false;
    }
    return true;
  }

  private static Optional<Schedule> rhythm(Reading reading) {
    var text = reading.text("rhythm");
    if (text.isEmpty()) {
      return Optional.empty();
    }
    try {
      return Optional.of(Schedule.of(RHYTHMS.getOrDefault(text.get(), text.get())));
    } catch (IllegalArgumentException wrong) {
      reading.problem(
          reading.place("rhythm"),
          "rhythm is “%s”; say weekly, monthly, quarterly, half-yearly or yearly, or minute, hour, day of the month, month and day of the week, such as 0 6 1 3 * for the first of March."
              .formatted(text.get()));
      return Optional.empty();
    }
  }

  private static Optional<Reviewers> reviewers(
      Optional<String> text, String key, Reading reading, Defined known) {
    var who = text.flatMap(Reviewers::of);
    if (text.isPresent() && who.isEmpty()) {
      reading.problem(
          reading.place(key),
          "%s is “%s”; say one of %s.".formatted(key, text.get(), Reviewers.ALL));
    }
    who.ifPresent(each -> {
      if (each instanceof Reviewers.OfTeam team
          && !known.all(TeamKind.class).containsKey(team.key())) {
        reading.problem(
            reading.place(key),
            "There is no team “%s”; there are %s."
                .formatted(team.key(), String.join(", ", known.all(TeamKind.class).keySet())));
      }
      if (each instanceof Reviewers.OnePerson person
          && WorkerNumber.read(person.worker()).isEmpty()) {
        reading.problem(
            reading.place(key),
            "“%s” is not %s.".formatted(person.worker(), WorkerNumber.EXPECTED));
      }
    });
    return who;
  }

  /** Whether these can be told for everything that is judged. */
  private static void fits(Reviewers who, Set<Judged> judged, String key, Reading reading) {
    var sentence =
        switch (who) {
          case Reviewers.EntitlementOwners owners ->
              judged.equals(EnumSet.of(Judged.ENTITLEMENTS))
                  ? ""
                  : "Entitlement owners judge entitlements, and nothing else.";
          case Reviewers.Stewards stewards ->
              judged.equals(EnumSet.of(Judged.PACKAGES))
                  ? ""
                  : "Stewards judge packages, and nothing else.";
          case Reviewers.ApplicationOwners owners ->
              judged.contains(Judged.PACKAGES)
                  ? "A package is in no one application: packages are judged by stewards, managers, their holders, or by name."
                  : "";
          case Reviewers.LineManagers managers -> nobodys(judged);
          case Reviewers.Sponsors sponsors -> nobodys(judged);
          case Reviewers.Holders holders -> nobodys(judged);
          case Reviewers.Leads leads -> "";
          case Reviewers.OfTeam team -> "";
          case Reviewers.OnePerson person -> "";
        };
    if (!sentence.isEmpty()) {
      reading.problem(reading.place(key), sentence);
    }
  }

  private static String nobodys(Set<Judged> judged) {
    return judged.contains(Judged.STRAY_ACCOUNTS) || judged.contains(Judged.SERVICE_ACCOUNTS)
        ? "Stray and service accounts are nobody's: application owners judge them, or somebody by name."
        : "";
  }

  private static void secondFits(Reviewers who, Reading reading) {
    if (!named(who)) {
      reading.problem(
          reading.place("second"),
          "Who looks a second time is named: leads, team KEY or person NUMBER.");
    }
  }

  private static boolean otherwiseFits(Reviewers who, Reading reading) {
    if (!named(who)) {
      reading.problem(
          reading.place("otherwise"),
          "Who judges where nobody else can is named: leads, team KEY or person NUMBER.");
    }
    return named(who);
  }

  private static boolean named(Reviewers who) {
    return who instanceof Reviewers.Leads
        || who instanceof Reviewers.OfTeam
        || who instanceof Reviewers.OnePerson;
  }
}
