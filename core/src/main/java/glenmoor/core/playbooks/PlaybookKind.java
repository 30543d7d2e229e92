package glenmoor.core.playbooks;

import com.google.auto.service.AutoService;
import glenmoor.core.access.RolePackageKind;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Problems;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.PostageKind;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.playbooks.Action.TicketVerb;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** {@code playbook: first-day}: what is done when something happens to a person. */
@AutoService(DefinitionKind.class)
public final class PlaybookKind implements DefinitionKind<Playbook> {
  private static final int MOST_STEPS = 60;
  private static final int USUAL_LATE_DAYS = 30;

  @Override
  public String word() {
    return "playbook";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact", "letter", "letters", "application", "package", "channel", "route");
  }

  @Override
  public Optional<Playbook> read(String key, Reading reading, Defined known) {
    var name = reading.text("name", key);
    var on = trigger(reading, known);
    var where =
        reading.has("where")
            ? new Compiling(reading, known).condition("where")
            : Optional.<Condition>empty();
    var late = reading.days("late", USUAL_LATE_DAYS);
    var steps = steps(reading, known);
    if (steps.stream().anyMatch(step -> step.action() instanceof Action.Erase)
        && on.filter(PlaybookKind::isAboutWhoHasLeft).isEmpty()) {
      reading.problem(
          reading.place("on"),
          "Only who has left is erased: a playbook that does it is on leaver, no-show or demand.");
    }
    return on.map(begins -> new Playbook(key, name, begins, where, late, steps));
  }

  private static boolean isAboutWhoHasLeft(Trigger on) {
    return switch (on) {
      case Trigger.OnEvent event ->
          event.kind() == EventKind.LEAVER || event.kind() == EventKind.NO_SHOW;
      case Trigger.OnDemand demand -> true;
      default -> false;
    };
  }

  /**
   * A step as a run kept it, with what is defined now.
   *
   * @return nothing where it cannot be carried out any more; what is wrong is added to the problems
   */
  public static Optional<Step> kept(
      Map<String, Object> said, Defined known, List<String> problems) {
    var place = new Tree.Place("", 0);
    if (!(Tree.of(said, place) instanceof Tree.Fields fields)) {
      return Optional.empty();
    }
    var found = new ArrayList<Problem>();
    var step = StepReading.step(fields, Reading.over(fields, found), known);
    found.forEach(problem -> problems.add(problem.sentence()));
    return found.isEmpty() ? step : Optional.empty();
  }

  private static Optional<Trigger> trigger(Reading reading, Defined known) {
    var on = reading.needed("on", "what it begins on");
    var at = Schedule.read(reading, "at");
    var rolePackage = reading.text("package");
    if (at.isPresent() && !on.equals("schedule")) {
      reading.problem(reading.place("at"), "at goes with on: schedule.");
    }
    if (rolePackage.isPresent() && !on.startsWith("grant-")) {
      reading.problem(
          reading.place("package"), "package goes with on: grant-begins or grant-ends.");
    }
    return switch (on) {
      case "" -> Optional.empty();
      case "demand" -> Optional.of(new Trigger.OnDemand());
      case "last-grant-ends" -> Optional.of(new Trigger.OnLastGrant());
      case "idle" -> idle(reading, known);
      case "schedule" -> {
        if (at.isEmpty() && !reading.has("at")) {
          reading.problem(reading.place("on"), "on: schedule needs at, such as 0 6 * * 1.");
        }
        yield at.map(Trigger.OnSchedule::new);
      }
      case "grant-begins", "grant-ends" -> {
        var packages = known.all(RolePackageKind.class).keySet();
        if (rolePackage.filter(packages::contains).isEmpty()) {
          reading.problem(
              reading.place("on"),
              "on: %s needs a package: %s."
                  .formatted(
                      on, packages.isEmpty() ? "none is defined" : String.join(", ", packages)));
          yield Optional.empty();
        }
        yield rolePackage.map(each -> new Trigger.OnGrant(on.equals("grant-begins"), each));
      }
      default -> event(on, reading);
    };
  }

  private static Optional<Trigger> idle(Reading reading, Defined known) {
    var named = reading.text("application", "");
    var watched =
        known.all(ApplicationKind.class).values().stream()
            .filter(each -> each.idleDays().isPresent())
            .map(Application::key)
            .toList();
    if (!watched.contains(named)) {
      reading.problem(
          reading.place("application"),
          "on: idle needs application, one that says when it is idle; there are %s."
              .formatted(watched.isEmpty() ? "none" : String.join(", ", watched)));
      return Optional.empty();
    }
    return Optional.of(new Trigger.OnIdle(named));
  }

  private static Optional<Trigger> event(String on, Reading reading) {
    var events = Arrays.stream(EventKind.values()).filter(each -> each != EventKind.CORRECTION);
    var words =
        Stream.concat(
                events.map(EventKind::word),
                Stream.of(
                    "demand", "schedule", "grant-begins", "grant-ends", "last-grant-ends", "idle"))
            .toList();
    if (!words.contains(on)) {
      reading.problem(
          reading.place("on"),
          "on is “%s”; say one of %s.".formatted(on, String.join(", ", words)));
      return Optional.empty();
    }
    return Optional.of(new Trigger.OnEvent(EventKind.ofWord(on)));
  }

  private static List<Step> steps(Reading reading, Defined known) {
    var trees = reading.items("steps");
    if (trees.isEmpty()) {
      reading.problem(reading.place("steps"), "A playbook has steps; say at least one.");
    }
    if (trees.size() > MOST_STEPS) {
      reading.problem(
          reading.place("steps"),
          "A playbook has at most %d steps; this one has %d.".formatted(MOST_STEPS, trees.size()));
    }
    var steps = new ArrayList<Step>();
    @Nullable When last = null;
    var desks = new HashSet<String>();
    var passcodes = new HashSet<String>();
    var erased = false;
    for (var tree : trees.stream().limit(MOST_STEPS).toList()) {
      if (!(tree instanceof Tree.Fields fields)) {
        reading.problem(tree.place(), "A step is keys with values, such as letter: welcome.");
        continue;
      }
      var step = StepReading.step(fields, reading, known);
      if (step.isEmpty()) {
        continue;
      }
      if (erased) {
        reading.problem(
            tree.place(),
            "Nothing can be done for somebody who was erased; erase is the last step.");
      }
      erased |= step.get().action() instanceof Action.Erase;
      var at = step.get().at();
      if (at.isPresent()) {
        if (last != null && at.get().before(last)) {
          reading.problem(
              tree.place(),
              "Steps are done in their order, and this one is to be done %s, before the one above it (%s)."
                  .formatted(at.get(), last));
        }
        last = at.get();
      }
      if (step.get().action() instanceof Action.Ticket ticket) {
        if (ticket.verb() == TicketVerb.OPEN) {
          desks.add(ticket.channel());
        } else if (!desks.contains(ticket.channel())) {
          reading.problem(
              tree.place(), "No step before this one opens a ticket in " + ticket.channel() + ".");
        }
      }
      if (step.get().action() instanceof Action.Passcode passcode) {
        passcodes.add(passcode.application());
      }
      if (step.get().action() instanceof Action.ResetSecret reset
          && reset.unlessChanged()
          && !passcodes.contains(reset.application())) {
        reading.problem(
            tree.place(),
            "No step before this one sets a passcode in " + reset.application() + ".");
      }
      steps.add(step.get());
    }
    return List.copyOf(steps);
  }

  /** A playbook that gives what begins it again would never come to an end. */
  @Override
  public void check(Collection<Definition> all, Defined known, Problems problems) {
    var playbooks = known.all(PlaybookKind.class);
    if (playbooks.values().stream().anyMatch(PlaybookKind::writes)
        && PostageKind.of(known).isEmpty()) {
      all.stream()
          .filter(each ->
              Optional.ofNullable(playbooks.get(each.key()))
                  .filter(PlaybookKind::writes)
                  .isPresent())
          .findFirst()
          .ifPresent(each ->
              problems.add(
                  each.body().place(),
                  "It sends letters, and nothing says who they come from and where people get theirs: define letters with from and address."));
    }
    for (var definition : all) {
      var playbook = playbooks.get(definition.key());
      if (playbook != null) {
        var circle = circle(playbook, playbooks.values());
        if (!circle.isEmpty()) {
          problems.add(
              definition.body().place(),
              "It would begin itself again and again: %s → %s."
                  .formatted(String.join(" → ", circle), playbook.key()));
        }
      }
    }
  }

  private static boolean writes(Playbook playbook) {
    return playbook.steps().stream()
        .anyMatch(step ->
            step.action() instanceof Action.SendLetter || step.action() instanceof Action.Passcode);
  }

  /** The way from a playbook back to itself, itself first; empty where there is none. */
  private static List<String> circle(Playbook from, Collection<Playbook> all) {
    var way = new LinkedHashSet<String>();
    return back(from, from, all, way) ? List.copyOf(way) : List.of();
  }

  private static boolean back(
      Playbook at, Playbook to, Collection<Playbook> all, LinkedHashSet<String> way) {
    way.add(at.key());
    for (var next : all) {
      if (begins(at, next)) {
        if (next.equals(to) || !way.contains(next.key()) && back(next, to, all, way)) {
          return true;
        }
      }
    }
    way.remove(at.key());
    return false;
  }

  private static boolean begins(Playbook one, Playbook other) {
    return other.on() instanceof Trigger.OnGrant on
        && one.steps().stream()
            .map(Step::action)
            .anyMatch(action ->
                on.begins()
                    ? action instanceof Action.GivePackage give
                        && give.rolePackage().equals(on.rolePackage())
                    : action instanceof Action.EndPackage end
                        && end.rolePackage().equals(on.rolePackage()));
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** What a playbook gives is given when it is played, not when it is defined. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
