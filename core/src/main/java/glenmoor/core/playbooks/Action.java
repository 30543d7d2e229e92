package glenmoor.core.playbooks;

import glenmoor.core.letters.Template;
import java.time.Duration;

/** One thing that a step of a playbook does. Done twice it is the same as once. */
public sealed interface Action {
  /** Sends a letter. */
  record SendLetter(String letter, Whom to) implements Action {}

  /**
   * Gives the account in an application a password that nobody knows yet, and tells it in a letter.
   */
  record Passcode(String application, String letter, Whom to) implements Action {}

  /** How an account is to have been seen before a run goes on. */
  enum Seen {
    READY("ready"),
    ENABLED("enabled"),
    DISABLED("disabled"),
    GONE("gone");

    private final String word;

    Seen(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** Waits until the account in an application was seen like this. */
  record AwaitAccount(String application, Seen seen) implements Action {}

  /**
   * Keeps the account in an application disabled, whatever is granted there, until {@link
   * EnableAccount}.
   */
  record DisableAccount(String application) implements Action {}

  /** Ends what {@link DisableAccount} began. */
  record EnableAccount(String application) implements Action {}

  /** Deletes the account in an application, once nobody needs it any more. */
  record DeleteAccount(String application) implements Action {}

  /**
   * Gives the account a password that nobody learns, so that what was known opens nothing.
   *
   * @param unlessChanged only if it is still the passcode that a step before it set
   */
  record ResetSecret(String application, boolean unlessChanged) implements Action {}

  /**
   * Gives a package.
   *
   * @param days for how long; 0 without an end
   */
  record GivePackage(String rolePackage, int days) implements Action {}

  /** Ends what a playbook, a request or somebody directly gave of a package. */
  record EndPackage(String rolePackage) implements Action {}

  /** Waits so long. */
  record Wait(Duration time) implements Action {}

  /**
   * Asks somebody, who answers with yes or no; no ends the run.
   *
   * @param lapseDays after so many days without an answer the step has failed
   */
  record Ask(Template question, Whom whom, int lapseDays) implements Action {}

  /**
   * Asks by a route: agreed to is a yes, declined a no that ends the run, lapsed a step that
   * failed.
   */
  record AskByRoute(Template question, String route) implements Action {}

  /** What is done with a ticket. */
  enum TicketVerb {
    OPEN("open"),
    COMMENT("comment"),
    CLOSE("close");

    private final String word;

    TicketVerb(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** Opens a ticket, or says more on the one that this run opened there, or closes it. */
  record Ticket(TicketVerb verb, String channel, Template text) implements Action {}

  /** Says something in a chat. */
  record Chat(String channel, Template text) implements Action {}

  /** Tells a program of the organisation's own about the run. */
  record Webhook(String channel) implements Action {}

  /** Hands what the person looks after in Glenmoor to their manager. */
  record HandOver() implements Action {}

  /** Erases who the person is, who has left; it is the last step. */
  record Erase() implements Action {}

  /** The word a step of it begins with. */
  default String word() {
    return switch (this) {
      case SendLetter a -> "letter";
      case Passcode a -> "passcode";
      case AwaitAccount a -> "account";
      case DisableAccount a -> "disable";
      case EnableAccount a -> "enable";
      case DeleteAccount a -> "delete";
      case ResetSecret a -> "reset";
      case GivePackage a -> "give";
      case EndPackage a -> "end";
      case Wait a -> "wait";
      case Ask a -> "ask";
      case AskByRoute a -> "ask";
      case Ticket a -> "ticket";
      case Chat a -> "chat";
      case Webhook a -> "webhook";
      case HandOver a -> "hand-over";
      case Erase a -> "erase";
    };
  }
}
