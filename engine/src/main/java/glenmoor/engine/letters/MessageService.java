package glenmoor.engine.letters;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.letters.Message;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.people.Visible;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.letters.MessageMapper;
import jakarta.inject.Named;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What there is to see of letters and other messages, and sending one again that failed. */
@Named
public final class MessageService {
  private static final List<String> STATES = List.of("waiting", "sent", "failed");

  private final MessageMapper messages;
  private final Outbox outbox;
  private final Visible visible;
  private final Catalogues catalogues;
  private final DefinitionDrafts drafts;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Clock clock;

  public MessageService(
      MessageMapper messages,
      Outbox outbox,
      Visible visible,
      Catalogues catalogues,
      DefinitionDrafts drafts,
      Ledger ledger,
      Transactions transactions,
      Clock clock) {
    this.messages = messages;
    this.outbox = outbox;
    this.visible = visible;
    this.catalogues = catalogues;
    this.drafts = drafts;
    this.ledger = ledger;
    this.transactions = transactions;
    this.clock = clock;
  }

  /**
   * Messages, the last one first.
   *
   * @param worker about whom; null for everybody
   */
  public List<Message> list(
      @Nullable String worker, @Nullable String state, long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_LETTERS);
    if (state != null && !STATES.contains(state)) {
      throw Refused.badInput(
          "There is no state “%s”; say one of %s.".formatted(state, String.join(", ", STATES)));
    }
    var person = worker == null ? null : visible.row(worker, actor).id();
    return messages.list(person, state, null, before, limit).stream()
        .map(MessageService::hidden)
        .toList();
  }

  /**
   * @throws Refused if there is none
   */
  public Message show(long id, Actor actor) {
    Authorization.need(actor, Permission.SEE_LETTERS);
    var message = messages.byId(id);
    if (message == null) {
      throw Refused.notThere("There is no message " + id + ".");
    }
    return hidden(message);
  }

  /** Nobody reads a passcode here: where it stood, there are dots. */
  private static Message hidden(Message message) {
    return new Message(
        message.id(),
        message.kind(),
        message.channel(),
        message.worker(),
        message.person(),
        message.recipient(),
        message.address(),
        message.template(),
        message.subject(),
        Outbox.hidden(message.body()),
        Outbox.hidden(message.html()),
        message.state(),
        message.tries(),
        message.createdAt(),
        message.dueAt(),
        message.settledAt(),
        message.reason(),
        message.answer(),
        message.run());
  }

  /**
   * Sends one again that failed.
   *
   * @throws Refused if it did not fail, or told a passcode, which is not kept
   */
  public Message again(long id, Actor actor) {
    Authorization.need(actor, Permission.SEND_LETTERS);
    transactions.run(() -> {
      var message = messages.byId(id);
      if (message == null) {
        throw Refused.notThere("There is no message " + id + ".");
      }
      if (!message.body().equals(Outbox.hidden(message.body()))) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "It told a passcode, which is not kept once it failed; restart the run from its step, which makes another.");
      }
      if (messages.again(id, clock.instant()) == 0) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "Only what failed is sent again; this is " + message.state() + ".");
      }
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "person:" + Objects.requireNonNullElse(message.worker(), ""),
              "message-again",
              Map.of(),
              Map.of("message", String.valueOf(id))));
    });
    return show(id, actor);
  }

  /** The letters that are defined, by their keys. */
  public List<Letter> letters(Actor actor) {
    Authorization.need(actor, Permission.SEE_LETTERS);
    return catalogues.current().defined().all(LetterKind.class).values().stream()
        .sorted(Comparator.comparing(Letter::key))
        .toList();
  }

  /**
   * A letter as it would be written about somebody, to themselves, today.
   *
   * @throws Refused if there is no such letter or person, or it cannot be written
   */
  public Letter.Written preview(String key, String worker, Actor actor) {
    Authorization.need(actor, Permission.SEE_LETTERS);
    return written(key, catalogues.current(), worker, actor);
  }

  /**
   * The same of a letter that somebody is writing.
   *
   * @param draft its definition
   * @throws Refused with the mistakes in the draft, too
   */
  public Letter.Written previewDraft(String key, String draft, String worker, Actor actor) {
    Authorization.need(actor, Permission.SEE_LETTERS);
    return written(key, drafts.with(draft, actor), worker, actor);
  }

  private Letter.Written written(String key, Catalogue catalogue, String worker, Actor actor) {
    var letter = catalogue.defined().all(LetterKind.class).get(key);
    if (letter == null) {
      throw Refused.notThere("There is no letter “%s”.".formatted(key));
    }
    var row = visible.row(worker, actor);
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    try {
      var written = outbox.write(letter, outbox.about(row), row.name(), today);
      return new Letter.Written(
          written.subject(), Outbox.hidden(written.text()), Outbox.hidden(written.html()));
    } catch (Outbox.Unwritten failed) {
      throw Refused.badInput(String.valueOf(failed.getMessage()));
    }
  }
}
