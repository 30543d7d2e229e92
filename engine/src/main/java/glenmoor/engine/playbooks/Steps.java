package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.Action;
import glenmoor.engine.letters.Occasion;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;

/** Carries out steps, each by those who know how; and says what each would do. */
@Named
final class Steps {
  private final MessageSteps messages;
  private final AccessSteps access;
  private final PeopleSteps people;
  private final HandingOver handing;
  private final ErasingStep erasing;

  Steps(
      MessageSteps messages,
      AccessSteps access,
      PeopleSteps people,
      HandingOver handing,
      ErasingStep erasing) {
    this.messages = messages;
    this.access = access;
    this.people = people;
    this.handing = handing;
    this.erasing = erasing;
  }

  /** Carries out one, inside the caller's transaction; done twice it is the same as once. */
  Did carryOut(Action action, StepContext context) {
    return switch (action) {
      case Action.SendLetter a -> messages.letter(a, context);
      case Action.Passcode a -> messages.passcode(a, context);
      case Action.AwaitAccount a -> access.await(a, context);
      case Action.DisableAccount a -> access.disable(a.application(), context);
      case Action.EnableAccount a -> access.enable(a.application(), context);
      case Action.DeleteAccount a -> access.delete(a.application(), context);
      case Action.ResetSecret a -> access.reset(a, context);
      case Action.GivePackage a -> access.give(a, context);
      case Action.EndPackage a -> access.end(a, context);
      case Action.Wait a -> people.wait(a, context);
      case Action.Ask a -> people.ask(a, context);
      case Action.AskByRoute a -> people.ask(a, context);
      case Action.Ticket a -> messages.ticket(a, context);
      case Action.Chat a -> messages.chat(a, context);
      case Action.Webhook a -> messages.webhook(a, context);
      case Action.HandOver a -> handing.handOver(context);
      case Action.Erase a -> erasing.erase(context);
    };
  }

  /** What one would do for somebody, as things are now. */
  Would would(Action action, Occasion about, LocalDate day) {
    return switch (action) {
      case Action.SendLetter a -> messages.wouldWrite(a.letter(), a.to(), "Sends ", about, day);
      case Action.Passcode a ->
          messages.wouldWrite(
              a.letter(),
              a.to(),
              "Sets a passcode in %s and sends ".formatted(a.application()),
              about,
              day);
      case Action.Ask a -> people.wouldAsk(a, about, day);
      case Action.AskByRoute a -> people.wouldAsk(a, about, day);
      case Action.Ticket a ->
          messages.wouldSay(
              switch (a.verb()) {
                case OPEN -> "Opens a ticket";
                case COMMENT -> "Comments on the ticket";
                case CLOSE -> "Closes the ticket";
              },
              a.channel(),
              a.text(),
              about,
              day);
      case Action.Chat a -> messages.wouldSay("Says", a.channel(), a.text(), about, day);
      case Action.Webhook a -> Would.doIt("Tells %s.".formatted(a.channel()));
      case Action.HandOver a -> handing.would(about);
      case Action.Erase a -> erasing.would(about);
      case Action.Wait a -> Would.doIt("Waits %s.".formatted(words(a)));
      case Action.AwaitAccount a -> access.would(a, about);
      case Action.DisableAccount a -> access.would(a, about);
      case Action.EnableAccount a -> access.would(a, about);
      case Action.DeleteAccount a -> access.would(a, about);
      case Action.ResetSecret a -> access.would(a, about);
      case Action.GivePackage a -> access.would(a, about);
      case Action.EndPackage a -> access.would(a, about);
    };
  }

  private static String words(Action.Wait wait) {
    var time = wait.time();
    return time.toDays() > 0 && time.equals(Duration.ofDays(time.toDays()))
        ? time.toDays() + " days"
        : time.toHours() > 0 ? time.toHours() + " hours" : time.toMinutes() + " minutes";
  }
}
