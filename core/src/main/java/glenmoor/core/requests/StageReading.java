package glenmoor.core.requests;

import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.AskCondition;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.StageRule.Agree;
import glenmoor.core.requests.StageRule.Clock;
import glenmoor.core.requests.StageRule.ReasonOn;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the stages of a route. */
final class StageReading {
  private static final int USUAL_LAPSE_DAYS = 14;
  private static final int MOST_DAYS = 365;

  private final Reading reading;
  private final Defined known;

  private StageReading(Reading reading, Defined known) {
    this.reading = reading;
    this.known = known;
  }

  /** The stage that some fields of a definition are; what is wrong with it is reported. */
  static StageRule stage(Tree.Fields fields, Reading route, Defined known) {
    var reading = route.of(fields);
    var stage = new StageReading(reading, known).read(fields);
    reading.finish();
    return stage;
  }

  /**
   * A stage as a line kept it, with what is defined now; what is wrong with it is not asked: a team
   * that is gone has no members.
   */
  static StageRule kept(Map<String, Object> said, Defined known) {
    var problems = new ArrayList<Problem>();
    var fields = (Tree.Fields) Tree.of(said, new Tree.Place("", 0));
    return new StageReading(Reading.over(fields, problems), known).read(fields);
  }

  @SuppressWarnings("unchecked")
  private StageRule read(Tree.Fields fields) {
    var ask = deciders("ask");
    if (ask.isEmpty()) {
      reading.problem(
          reading.place("ask"), "A stage says whom it asks: ask, with %s.".formatted(Deciders.ALL));
    }
    var clock = clock();
    var standby = deciders("standby");
    if (standby.isEmpty() == clock.standby().isPresent()) {
      reading.problem(
          reading.place("standby"),
          "standby says who joins in and standby-from when: say both or neither.");
    }
    var where =
        reading.has("where")
            ? new Compiling(reading, known).askCondition("where")
            : Optional.<AskCondition>empty();
    return new StageRule(
        (Map<String, Object>) fields.plain(),
        ask,
        deciders("otherwise"),
        reading.choice("agree", Agree.ANY, Agree::word),
        clock,
        standby,
        deciders("on-to"),
        reading.choice("reason", ReasonOn.DECLINE, ReasonOn::word),
        where,
        reading.yesNo("beside"),
        reading.yesNo("again"));
  }

  private Clock clock() {
    var lapse = days("lapse", USUAL_LAPSE_DAYS);
    var standby =
        reading.has("standby-from")
            ? Optional.of(days("standby-from", USUAL_LAPSE_DAYS))
            : Optional.<Duration>empty();
    var nudges = nudges(lapse);
    if (standby.filter(from -> from.compareTo(lapse) >= 0).isPresent()) {
      reading.problem(
          reading.place("standby-from"),
          "Standby approvers join in before the stage lapses: standby-from must be shorter than lapse.");
    }
    if (standby.isPresent()
        && !nudges.isEmpty()
        && standby.get().compareTo(nudges.getFirst()) <= 0) {
      reading.problem(
          reading.place("standby-from"),
          "Standby approvers join in after the first reminder: standby-from must be longer than nudge.");
    }
    return new Clock(nudges, standby, lapse);
  }

  /** The times that were written; half of the time a stage has where none was. */
  private List<Duration> nudges(Duration lapse) {
    if (!reading.has("nudge")) {
      return List.of(lapse.dividedBy(2));
    }
    var nudges = new ArrayList<Duration>();
    for (var text : reading.texts("nudge")) {
      var days = Reading.days(text.value());
      if (days.isEmpty() || days.get() < 1) {
        reading.problem(
            text.place(),
            "nudge is “%s”; say a number of days after the stage opened, such as 3 days, or a list of such."
                .formatted(text.value()));
        continue;
      }
      var nudge = Duration.ofDays(days.get());
      if (nudge.compareTo(lapse) >= 0) {
        reading.problem(
            text.place(),
            "A reminder comes before the stage lapses: nudge must be shorter than lapse.");
      }
      nudges.add(nudge);
    }
    return nudges.stream().sorted().distinct().toList();
  }

  private Duration days(String key, int otherwise) {
    var days = reading.days(key, otherwise);
    if (days < 1 || days > MOST_DAYS) {
      reading.problem(
          reading.place(key), "%s is %d days; say from 1 to %d.".formatted(key, days, MOST_DAYS));
    }
    return Duration.ofDays(Math.clamp(days, 1, MOST_DAYS));
  }

  private List<Deciders> deciders(String key) {
    var found = new ArrayList<Deciders>();
    for (var text : reading.texts(key)) {
      Deciders.of(text.value())
          .filter(each -> exists(each, text))
          .ifPresentOrElse(found::add, () -> unknown(key, text));
    }
    return found.stream().distinct().toList();
  }

  private void unknown(String key, Tree.Text text) {
    if (Deciders.of(text.value()).isEmpty()) {
      reading.problem(
          text.place(), "%s has “%s”; say some of %s.".formatted(key, text.value(), Deciders.ALL));
    }
  }

  private boolean exists(Deciders deciders, Tree.Text text) {
    return switch (deciders) {
      case Deciders.OfTeam team -> {
        var teams = known.all(TeamKind.class);
        var there = teams.containsKey(team.key());
        if (!there) {
          reading.problem(
              text.place(),
              "There is no team “%s”; there are %s."
                  .formatted(team.key(), String.join(", ", teams.keySet())));
        }
        yield there;
      }
      case Deciders.OnePerson person -> {
        var there = WorkerNumber.read(person.worker()).isPresent();
        if (!there) {
          reading.problem(
              text.place(), "“%s” is not %s.".formatted(person.worker(), WorkerNumber.EXPECTED));
        }
        yield there;
      }
      case Deciders.LineManager m -> true;
      case Deciders.ManagersManager m -> true;
      case Deciders.Sponsor s -> true;
      case Deciders.Stewards s -> true;
      case Deciders.ApplicationOwners o -> true;
      case Deciders.EntitlementOwners e -> true;
      case Deciders.ConflictOwners c -> true;
      case Deciders.Administrators a -> true;
    };
  }
}
