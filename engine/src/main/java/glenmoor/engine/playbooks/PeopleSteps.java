package glenmoor.engine.playbooks;

import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.playbooks.Action;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.playbooks.Whom;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Occasion;
import glenmoor.store.Ids;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.playbooks.AskMapper;
import glenmoor.store.playbooks.AskMapper.AskRow;
import glenmoor.store.reconcile.DriftMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Map;

/** Steps that wait for people: asking, handing over, and waiting itself. */
@Named
final class PeopleSteps {
  private final AskMapper asks;
  private final DriftMapper drifts;
  private final PersonMapper people;
  private final Addressees addressees;
  private final MessageSteps messages;
  private final Ledger ledger;
  private final Ids ids;

  PeopleSteps(
      AskMapper asks,
      DriftMapper drifts,
      PersonMapper people,
      Addressees addressees,
      MessageSteps messages,
      Ledger ledger,
      Ids ids) {
    this.asks = asks;
    this.drifts = drifts;
    this.people = people;
    this.addressees = addressees;
    this.messages = messages;
    this.ledger = ledger;
    this.ids = ids;
  }

  Did wait(Action.Wait wait, StepContext context) {
    var until = context.run().reachedAt().plus(wait.time());
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
      case "yes" -> Did.done("%s said yes%s".formatted(asked.answeredBy(), said(asked)));
      case "no" ->
          Did.of(new Outcome.EndsRun("%s said no%s".formatted(asked.answeredBy(), said(asked))));
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
    var lapses = context.now().plus(Duration.ofDays(ask.lapseDays()));
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

  /** What they look after in Glenmoor goes to their manager; reports are their source's to say. */
  Did handOver(StepContext context) {
    var about = context.about();
    var accounts = drifts.ownedBy(about.row().id());
    var reports = people.countReports(about.row().workerNumber());
    var still = reports == 0 ? "" : "; %d still report to them, says the source".formatted(reports);
    if (accounts == 0) {
      return Did.done("They look after nothing here" + still);
    }
    if (about.manager().isEmpty()) {
      return Did.failed(
          "%s looks after %d service accounts, and has no manager to hand them to."
              .formatted(about.row().name(), accounts));
    }
    var manager = about.manager().get();
    drifts.handOver(about.row().id(), manager.id());
    ledger.append(
        new LedgerEntry(
            context.now(),
            "glenmoor",
            context.cause(),
            "person:" + about.row().workerNumber(),
            "handed-over",
            Map.of("serviceAccounts", accounts),
            Map.of("to", manager.workerNumber())));
    return Did.done(
        "%d service %s now %s to %s%s"
            .formatted(
                accounts,
                accounts == 1 ? "account" : "accounts",
                accounts == 1 ? "belongs" : "belong",
                manager.name(),
                still));
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

  Would wouldHandOver(Occasion about) {
    var accounts = drifts.ownedBy(about.row().id());
    if (accounts > 0 && about.manager().isEmpty()) {
      return Would.not("There is no manager to hand %d service accounts to.".formatted(accounts));
    }
    return Would.doIt(
        accounts == 0
            ? "They look after nothing here that could be handed over."
            : "Hands %d service accounts to %s."
                .formatted(accounts, about.manager().orElseThrow().name()));
  }
}
