package glenmoor.engine.playbooks;

import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.letters.Template;
import glenmoor.core.playbooks.Action;
import glenmoor.core.playbooks.Action.TicketVerb;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.playbooks.Whom;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.Occasion;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Told;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.provisioning.Passcodes;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.store.letters.MessageMapper.Standing;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** Steps that tell somebody something: each goes on once all that it wrote was sent. */
@Named
final class MessageSteps {
  private final Outbox outbox;
  private final Addressees addressees;
  private final Passcodes passcodes;
  private final Secrets secrets;
  private final OperationMapper operations;
  private final Catalogues catalogues;

  MessageSteps(
      Outbox outbox,
      Addressees addressees,
      Passcodes passcodes,
      Secrets secrets,
      OperationMapper operations,
      Catalogues catalogues) {
    this.outbox = outbox;
    this.addressees = addressees;
    this.passcodes = passcodes;
    this.secrets = secrets;
    this.operations = operations;
    this.catalogues = catalogues;
  }

  Did letter(Action.SendLetter send, StepContext context) {
    var standing = outbox.standing(context.onceKey());
    if (!standing.isEmpty()) {
      return Did.of(sent(standing, "Sent “%s” to ".formatted(send.letter()), context));
    }
    return write(send.letter(), send.to(), null, context)
        .orElseGet(() -> Did.of(new Outcome.NotYet(context.again(), "The letter is on its way.")));
  }

  /** Writes a letter to everybody it goes to; what came of it where it could not be written. */
  private Optional<Did> write(String key, Whom to, @Nullable Told told, StepContext context) {
    var today = context.now().atZone(context.zone()).toLocalDate();
    var recipients = addressees.of(to, context.about(), today);
    if (recipients.isEmpty()) {
      return Optional.of(Did.failed(Addressees.nobody(to, context.about())));
    }
    try {
      for (var recipient : recipients) {
        outbox.send(
            letter(key), context.about(), recipient, context.run().day(), told, context.letter());
      }
      return Optional.empty();
    } catch (Unwritten unwritten) {
      return Optional.of(Did.failed(String.valueOf(unwritten.getMessage())));
    }
  }

  private Letter letter(String key) {
    return Objects.requireNonNull(catalogues.current().defined().all(LetterKind.class).get(key));
  }

  private static Outcome sent(List<Standing> standing, String what, StepContext context) {
    var failed = standing.stream().filter(each -> each.state().equals("failed")).findFirst();
    if (failed.isPresent()) {
      return new Outcome.Failed(failed.get().reason());
    }
    var waiting = standing.stream().filter(each -> each.state().equals("waiting")).findFirst();
    return waiting.isPresent()
        ? new Outcome.NotYet(
            context.again(),
            waiting.get().reason().isEmpty()
                ? "It is on its way."
                : "It waits: " + waiting.get().reason())
        : new Outcome.Done(
            what + String.join(", ", standing.stream().map(Standing::address).toList()));
  }

  /** Sets a passcode first, and tells it once it was seen to be in force. */
  Did passcode(Action.Passcode passcode, StepContext context) {
    var standing = outbox.standing(context.onceKey());
    if (standing.isEmpty()) {
      return issued(passcode, context);
    }
    var operation = operations.view(Long.parseLong(context.step().reference()));
    var state = operation == null ? "" : operation.state();
    return switch (state) {
      case "confirmed", "by-hand" -> {
        outbox.release(context.onceKey());
        yield Did.of(
            sent(
                standing,
                "Set a passcode in %s and told it to ".formatted(passcode.application()),
                context));
      }
      case "waiting", "task", "fault" ->
          Did.of(
              new Outcome.NotYet(
                  context.again(),
                  state.equals("waiting")
                      ? "The passcode is being set in %s.".formatted(passcode.application())
                      : "Setting the passcode in %s waits for its fixers."
                          .formatted(passcode.application())));
      default -> {
        outbox.drop(context.onceKey(), "Its passcode was not set.");
        yield Did.failed("The passcode was not set in %s.".formatted(passcode.application()));
      }
    };
  }

  private Did issued(Action.Passcode passcode, StepContext context) {
    var today = context.now().atZone(context.zone()).toLocalDate();
    if (addressees.of(passcode.to(), context.about(), today).isEmpty()) {
      return Did.failed(Addressees.nobody(passcode.to(), context.about()));
    }
    var issued =
        passcodes.issue(context.about().row(), passcode.application(), "glenmoor", context.cause());
    if (issued.isEmpty()) {
      return Did.failed(
          "%s has no account in %s."
              .formatted(context.about().row().name(), passcode.application()));
    }
    var told = new Told(secrets.seal(issued.get().passcode()));
    var unwritten = write(passcode.letter(), passcode.to(), told, context);
    return unwritten.orElseGet(() ->
        new Did(
            new Outcome.NotYet(
                context.again(),
                "The passcode is being set in %s.".formatted(passcode.application())),
            String.valueOf(issued.get().operation()),
            null));
  }

  Did ticket(Action.Ticket ticket, StepContext context) {
    var number =
        ticket.verb() == TicketVerb.OPEN
            ? Optional.<String>empty()
            : context.referenceOf(step -> opens(step.said(), ticket.channel()));
    if (ticket.verb() != TicketVerb.OPEN && number.isEmpty()) {
      return Did.of(new Outcome.LeftOut("No ticket was opened that it could be about."));
    }
    var data = new HashMap<String, Object>(Map.of("do", ticket.verb().word()));
    number.ifPresent(known -> data.put("ticket", known));
    return told(
        "tickets",
        ticket.channel(),
        ticket.text(),
        data,
        context,
        standing -> {
          var answer = standing.getFirst().answer();
          var which = number.orElse(answer);
          return switch (ticket.verb()) {
            case OPEN ->
                "Opened the ticket " + (which.isEmpty() ? "in " + ticket.channel() : which);
            case COMMENT -> "Commented on the ticket " + which;
            case CLOSE -> "Closed the ticket " + which;
          };
        });
  }

  private static boolean opens(String said, String channel) {
    var step = KeptSteps.said(said);
    return "open".equals(step.get("ticket")) && channel.equals(step.get("in"));
  }

  Did chat(Action.Chat chat, StepContext context) {
    return told(
        "chat",
        chat.channel(),
        chat.text(),
        Map.of(),
        context,
        standing -> "Said it in " + chat.channel());
  }

  Did webhook(Action.Webhook webhook, StepContext context) {
    var standing = outbox.standing(context.onceKey());
    if (standing.isEmpty()) {
      outbox.tell(
          "webhook",
          webhook.channel(),
          context.about(),
          "%s for %s".formatted(context.run().name(), context.about().row().name()),
          facts(context, Map.of()),
          context.letter());
      return Did.of(new Outcome.NotYet(context.again(), "It is on its way."));
    }
    return toldOf(standing, context, all -> "Told " + webhook.channel());
  }

  private Did told(
      String kind,
      String channel,
      Template text,
      Map<String, Object> more,
      StepContext context,
      Function<List<Standing>, String> what) {
    var standing = outbox.standing(context.onceKey());
    if (!standing.isEmpty()) {
      return toldOf(standing, context, what);
    }
    try {
      var said = said(text, context.about(), context.run().day());
      var data = facts(context, more);
      data.put("text", said);
      outbox.tell(kind, channel, context.about(), said, data, context.letter());
      return Did.of(new Outcome.NotYet(context.again(), "It is on its way."));
    } catch (Unanswerable failed) {
      return Did.failed("Its text cannot be written: %s.".formatted(failed.getMessage()));
    }
  }

  private static Did toldOf(
      List<Standing> standing, StepContext context, Function<List<Standing>, String> what) {
    var outcome = sent(standing, "", context);
    return outcome instanceof Outcome.Done
        ? new Did(new Outcome.Done(what.apply(standing)), standing.getFirst().answer(), null)
        : Did.of(outcome);
  }

  private static HashMap<String, Object> facts(StepContext context, Map<String, Object> more) {
    var data = new HashMap<String, Object>(more);
    data.put("playbook", context.run().playbook());
    data.put("run", String.valueOf(context.run().id()));
    data.put("worker", context.about().row().workerNumber());
    data.put("name", context.about().row().name());
    data.put("day", context.run().day().toString());
    return data;
  }

  String said(Template text, Occasion about, LocalDate day) {
    return about.values("", day).fill(text, catalogues.current().expressions());
  }

  Would wouldWrite(String key, Whom to, String before, Occasion about, LocalDate day) {
    var recipients = addressees.of(to, about, day);
    if (recipients.isEmpty()) {
      return Would.not(Addressees.nobody(to, about));
    }
    try {
      var written = outbox.write(letter(key), about, recipients.getFirst().name(), day);
      for (PersonRow recipient : recipients) {
        outbox.address(recipient);
      }
      return Would.doIt(
          "%sthe letter “%s” to %s."
              .formatted(before, written.subject(), Addressees.names(recipients)));
    } catch (Unwritten unwritten) {
      return Would.not(String.valueOf(unwritten.getMessage()));
    }
  }

  Would wouldSay(String what, String channel, Template text, Occasion about, LocalDate day) {
    var name =
        Optional.ofNullable(catalogues.current().defined().all(ChannelKind.class).get(channel))
            .map(each -> each.name())
            .orElse(channel);
    try {
      return Would.doIt("%s in %s: “%s”".formatted(what, name, said(text, about, day)));
    } catch (Unanswerable failed) {
      return Would.not("Its text cannot be written: %s.".formatted(failed.getMessage()));
    }
  }
}
