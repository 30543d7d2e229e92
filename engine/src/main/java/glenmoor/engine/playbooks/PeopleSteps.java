package glenmoor.engine.playbooks;

import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.playbooks.Action;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.playbooks.Whom;
import glenmoor.engine.letters.Occasion;
import glenmoor.engine.requests.RoutedQuestions;
import glenmoor.engine.requests.RoutedQuestions.Standing;
import glenmoor.store.Ids;
import glenmoor.store.playbooks.AskMapper;
import glenmoor.store.playbooks.AskMapper.AskRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Objects;

/** Steps that wait for people: asking, and waiting itself. */
@Named
final class PeopleSteps {
  /** Whoever leaves, or is away, while they are asked is replaced after so long. */
  private static final Duration LOOK_AGAIN = Duration.ofHours(1);

  private final AskMapper asks;
  private final Addressees addressees;
  private final MessageSteps messages;
  private final RoutedQuestions routed;
  private final Ids ids;

  PeopleSteps(
      AskMapper asks,
      Addressees addressees,
      MessageSteps messages,
      RoutedQuestions routed,
      Ids ids) {
    this.asks = asks;
    this.addressees = addressees;
    this.messages = messages;
    this.routed = routed;
    this.ids = ids;
  }

  Did wait(Action.Wait wait, StepContext context) {
    var until = context.since().plus(wait.time());
    return Did.of(
        context.now().isBefore(until)
            ? new Outcome.NotYet(until, "Waits.")
            : new Outcome.Done("Waited"));
  }

  Did ask(Action.Ask ask, StepContext context) {
    var asked = asks.ofStep(context.run().id(), context.step().number());
    if (asked == null || asked.askedAt().isBefore(context.run().reachedAt())) {
      return asked(ask, context);
    }
    return switch (asked.state()) {
      case "yes", "no" -> answered(asked);
      case "open" -> {
        if (context.now().isBefore(asked.lapsesAt())) {
          yield Did.of(
              new Outcome.NotYet(
                  asked.lapsesAt(), "Waits for an answer of the " + asked.whom() + "."));
        }
        asks.answer(asked.id(), "lapsed", "", context.now(), "");
        yield Did.failed("Nobody answered within %d days.".formatted(ask.lapseDays()));
      }
      default -> Did.failed("The question lapsed.");
    };
  }

  private static Did answered(AskRow asked) {
    return asked.state().equals("yes")
        ? Did.done("%s said yes%s".formatted(asked.answeredBy(), said(asked)))
        : Did.of(new Outcome.EndsRun("%s said no%s".formatted(asked.answeredBy(), said(asked))));
  }

  Did ask(Action.AskByRoute ask, StepContext context) {
    var asked = asks.ofStep(context.run().id(), context.step().number());
    if (asked == null || asked.askedAt().isBefore(context.run().reachedAt())) {
      return begun(ask, context);
    }
    return switch (asked.state()) {
      case "yes", "no" -> answered(asked);
      // Locked, so that of an answer and a look in the same moment one comes first.
      case "open" -> {
        var locked = Objects.requireNonNull(asks.lock(asked.id()));
        yield locked.state().equals("open")
            ? stands(
                locked, routed.look(AskService.question(locked, context.about().row())), context)
            : answered(locked);
      }
      default -> Did.failed("The question lapsed.");
    };
  }

  private Did begun(Action.AskByRoute ask, StepContext context) {
    String question;
    try {
      question = messages.said(ask.question(), context.about(), context.run().day());
    } catch (Unanswerable failed) {
      return Did.failed("The question cannot be written: %s.".formatted(failed.getMessage()));
    }
    asks.drop(context.run().id(), context.now());
    var row = row(question, AskService.BY_ROUTE + ask.route(), context);
    asks.insert(row);
    return stands(row, routed.begin(AskService.question(row, context.about().row())), context);
  }

  private AskRow row(String question, String whom, StepContext context) {
    return new AskRow(
        ids.next(),
        context.run().id(),
        context.step().number(),
        context.about().row().id(),
        question,
        whom,
        "",
        "",
        context.now(),
        context.now(),
        "open",
        "",
        null,
        "");
  }

  private Did stands(AskRow asked, Standing standing, StepContext context) {
    return switch (standing) {
      case Standing.Waits waits -> {
        asks.lapses(asked.id(), waits.next());
        var soon = context.now().plus(LOOK_AGAIN);
        yield Did.of(
            new Outcome.NotYet(
                waits.next().isBefore(soon) ? waits.next() : soon,
                "Waits for an answer of " + waits.who() + "."));
      }
      case Standing.Agreed agreed -> {
        asks.answer(asked.id(), "yes", "the route", context.now(), "");
        yield Did.done("Nobody had to be asked by the route");
      }
      case Standing.Declined declined -> {
        asks.answer(asked.id(), "no", "the route", context.now(), declined.reason());
        yield Did.of(new Outcome.EndsRun("It was declined: " + declined.reason()));
      }
      case Standing.Over over -> {
        asks.answer(asked.id(), "lapsed", "", context.now(), "");
        yield Did.failed(over.why());
      }
    };
  }

  private static String said(AskRow asked) {
    return asked.reason().isBlank() ? "" : ": " + asked.reason();
  }

  private Did asked(Action.Ask ask, StepContext context) {
    var today = context.now().atZone(context.zone()).toLocalDate();
    if (addressees.of(ask.whom(), context.about(), today).isEmpty()) {
      return Did.failed(Addressees.nobody(ask.whom(), context.about()));
    }
    String question;
    try {
      question = messages.said(ask.question(), context.about(), context.run().day());
    } catch (Unanswerable failed) {
      return Did.failed("The question cannot be written: %s.".formatted(failed.getMessage()));
    }
    var lapses = CalendarDays.after(context.now(), ask.lapseDays(), context.zone());
    asks.drop(context.run().id(), context.now());
    asks.insert(
        new AskRow(
            ids.next(),
            context.run().id(),
            context.step().number(),
            context.about().row().id(),
            question,
            ask.whom().written(),
            ask.whom() instanceof Whom.Holders holders ? holders.duty().word() : "",
            ask.whom() instanceof Whom.Holders holders ? holders.application() : "",
            context.now(),
            lapses,
            "open",
            "",
            null,
            ""));
    return Did.of(
        new Outcome.NotYet(lapses, "Waits for an answer of the " + ask.whom().written() + "."));
  }

  Would wouldAsk(Action.AskByRoute ask, Occasion about, LocalDate day) {
    try {
      return Would.doIt(
          "Asks by the route %s: “%s”"
              .formatted(ask.route(), messages.said(ask.question(), about, day)));
    } catch (Unanswerable failed) {
      return Would.not("The question cannot be written: %s.".formatted(failed.getMessage()));
    }
  }

  Would wouldAsk(Action.Ask ask, Occasion about, LocalDate day) {
    var whom = addressees.of(ask.whom(), about, day);
    if (whom.isEmpty()) {
      return Would.not(Addressees.nobody(ask.whom(), about));
    }
    try {
      return Would.doIt(
          "Asks %s: “%s”"
              .formatted(Addressees.names(whom), messages.said(ask.question(), about, day)));
    } catch (Unanswerable failed) {
      return Would.not("The question cannot be written: %s.".formatted(failed.getMessage()));
    }
  }
}
