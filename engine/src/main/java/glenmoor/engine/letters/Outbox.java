package glenmoor.engine.letters;

import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterValues;
import glenmoor.core.letters.PostageKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.time.Clock;
import glenmoor.store.Ids;
import glenmoor.store.letters.MessageMapper;
import glenmoor.store.letters.MessageMapper.NewMessage;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes messages into the outbox, inside the transaction that decided them; {@link Sending} hands
 * them over. A message with the same key is put in once, however often it is written.
 */
@Named
public final class Outbox {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int LONGEST_SUBJECT = 200;

  /** A message cannot be written; the reason is a sentence. */
  public static final class Unwritten extends RuntimeException {
    private static final long serialVersionUID = 1;

    Unwritten(String sentence) {
      super(sentence);
    }
  }

  /**
   * For what a message is written.
   *
   * @param run the run that waits for it; null for none
   * @param onceKey what makes it one message
   * @param by who had it written
   */
  public record Cause(@Nullable Long run, String onceKey, String by) {}

  /** A passcode that a letter tells, sealed. It is not sent before {@link #release}. */
  public record Told(String sealed) {}

  private final MessageMapper messages;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Secrets secrets;
  private final Ids ids;
  private final Clock clock;

  public Outbox(
      MessageMapper messages,
      PersonMapper people,
      AccountMapper accounts,
      Catalogues catalogues,
      Ledger ledger,
      Secrets secrets,
      Ids ids,
      Clock clock) {
    this.messages = messages;
    this.people = people;
    this.accounts = accounts;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.secrets = secrets;
    this.ids = ids;
    this.clock = clock;
  }

  /** Loads what messages about somebody may say. */
  public Occasion about(PersonRow row) {
    var person = FactsJson.person(row, catalogues.current().facts());
    var manager = person.facts().text(Facts.MANAGER);
    return new Occasion(
        row,
        person,
        accountsOf(row),
        manager.isEmpty()
            ? Optional.empty()
            : Optional.ofNullable(people.byWorker(manager)).filter(this::isHere));
  }

  /** Whoever has left is nobody's manager: nothing is told to them, and they cannot answer. */
  private boolean isHere(PersonRow row) {
    var catalogue = catalogues.current();
    return !Standing.of(
            FactsJson.person(row, catalogue.facts()),
            clock.instant().atZone(catalogue.zone()).toLocalDate())
        .isGone();
  }

  private Map<String, String> accountsOf(PersonRow row) {
    return accounts.of(List.of(row.id())).stream()
        .filter(each -> !each.name().isEmpty())
        .collect(Collectors.toMap(AccountRow::application, AccountRow::name, (one, other) -> one));
  }

  /**
   * The mail address of somebody.
   *
   * @throws Unwritten if none can be made
   */
  public String address(PersonRow row) {
    var catalogue = catalogues.current();
    var postage =
        PostageKind.of(catalogue.defined())
            .orElseThrow(() ->
                new Unwritten("Nothing says where people get their letters: define letters."));
    try {
      return postage
          .address()
          .value(
              catalogue.expressions().view(FactsJson.person(row, catalogue.facts())),
              accountsOf(row),
              "")
          .orElseThrow(() -> new Unwritten("%s has no mail address.".formatted(row.name())));
    } catch (Unanswerable none) {
      throw new Unwritten("%s has no mail address: %s.".formatted(row.name(), none.getMessage()));
    }
  }

  /**
   * A letter as it would be written to somebody.
   *
   * @throws Unwritten if an expression in it fails
   */
  public Letter.Written write(Letter letter, Occasion about, String recipient, LocalDate day) {
    return written(letter, about.values(recipient, day));
  }

  private Letter.Written written(Letter letter, LetterValues values) {
    try {
      return values.write(letter, catalogues.current().expressions());
    } catch (Unanswerable failed) {
      throw new Unwritten(
          "The letter “%s” cannot be written: %s.".formatted(letter.key(), failed.getMessage()));
    }
  }

  /**
   * Puts a letter in the outbox.
   *
   * @param told the passcode it tells; null for none
   * @throws Unwritten if it cannot be written, or its recipient has no address
   */
  public void send(
      Letter letter,
      Occasion about,
      PersonRow recipient,
      LocalDate day,
      @Nullable Told told,
      Cause cause) {
    put(
        letter,
        write(letter, about, recipient.name(), day),
        about,
        recipient,
        told,
        told == null ? clock.instant() : null,
        cause);
  }

  /**
   * Puts a letter in the outbox that tells somebody what waits for them.
   *
   * @param work what waits, in a line
   * @throws Unwritten if it cannot be written, or they have no address
   */
  public void remind(Letter letter, PersonRow recipient, String work, LocalDate day, Cause cause) {
    var about = about(recipient);
    var written = written(letter, about.values(recipient.name(), day, work));
    put(letter, written, about, recipient, null, clock.instant(), cause);
  }

  /**
   * A secret that leads somebody to where they decide.
   *
   * @param beginning of the address, to which the secret is added
   */
  public record Leading(String beginning, String secret) {}

  /**
   * The same, with an address at which the recipient decides. Its secret is sealed until it is
   * sent, and whoever reads the letter here does not see it.
   */
  public void remind(
      Letter letter,
      PersonRow recipient,
      String work,
      LocalDate day,
      Leading leading,
      Cause cause) {
    var about = about(recipient);
    var values = about.values(recipient.name(), day, work).withLink(leading.beginning());
    put(
        letter,
        written(letter, values),
        about,
        recipient,
        new Told(secrets.seal(leading.secret())),
        clock.instant(),
        cause);
  }

  /**
   * Puts a letter in the outbox to somebody who is no person here, with an address at which they
   * confirm that it is theirs. Its secret is sealed until it is sent.
   *
   * @param about what is known of them
   * @throws Unwritten if it cannot be written
   */
  public void confirm(
      Letter letter,
      Person about,
      String mail,
      String work,
      LocalDate day,
      Leading leading,
      Cause cause) {
    var name = about.facts().fullName();
    var values =
        new LetterValues(about, Map.of(), "", name, day, work).withLink(leading.beginning());
    var written = written(letter, values);
    messages.insert(
        new NewMessage(
            ids.next(),
            "letter",
            "",
            null,
            null,
            mail,
            letter.key(),
            written.subject(),
            written.text(),
            written.html(),
            secrets.seal(leading.secret()),
            cause.by(),
            cause.run(),
            cause.onceKey(),
            clock.instant(),
            clock.instant()));
  }

  private void put(
      Letter letter,
      Letter.Written written,
      Occasion about,
      PersonRow recipient,
      @Nullable Told told,
      @Nullable Instant due,
      Cause cause) {
    messages.insert(
        new NewMessage(
            ids.next(),
            "letter",
            "",
            about.row().id(),
            recipient.id(),
            address(recipient),
            letter.key(),
            written.subject(),
            written.text(),
            written.html(),
            told == null ? "" : told.sealed(),
            cause.by(),
            cause.run(),
            cause.onceKey() + ":" + recipient.id(),
            due,
            clock.instant()));
    ledger.append(
        entry(
            about,
            cause,
            "letter-written",
            Map.of("letter", letter.key(), "to", recipient.workerNumber())));
  }

  /**
   * Puts in the outbox what a channel is to be told.
   *
   * @param text what it says in words
   * @param data the same, and more, for a program
   */
  public void tell(
      String kind,
      String channel,
      Occasion about,
      String text,
      Map<String, Object> data,
      Cause cause) {
    tell(kind, channel, about, text, data, "", cause);
  }

  /**
   * The same, with a secret in it that is sealed until it is told: in the data it stands as {@link
   * LetterValues#PASSCODE_PLACE}.
   */
  public void tell(
      String kind,
      String channel,
      Occasion about,
      String text,
      Map<String, Object> data,
      String secret,
      Cause cause) {
    messages.insert(
        new NewMessage(
            ids.next(),
            kind,
            channel,
            about.row().id(),
            null,
            "",
            "",
            text.length() <= LONGEST_SUBJECT ? text : text.substring(0, LONGEST_SUBJECT),
            JSON.writeValueAsString(data),
            "",
            secret.isEmpty() ? "" : secrets.seal(secret),
            cause.by(),
            cause.run(),
            cause.onceKey(),
            clock.instant(),
            clock.instant()));
    ledger.append(entry(about, cause, "message-written", Map.of("channel", channel)));
  }

  /** Lets go what tells a passcode, once that is in force. */
  public void release(String onceKey) {
    messages.release(onceKey, clock.instant());
  }

  /** Keeps what was not sent yet from being sent. */
  public void drop(String onceKey, String reason) {
    messages.drop(onceKey, reason, clock.instant());
  }

  /** How those messages stand whose keys begin like this. */
  public List<MessageMapper.Standing> standing(String onceKey) {
    return messages.ofKey(onceKey);
  }

  private LedgerEntry entry(Occasion about, Cause cause, String what, Map<String, Object> after) {
    return new LedgerEntry(
        clock.instant(),
        "glenmoor",
        cause.by(),
        "person:" + about.row().workerNumber(),
        what,
        Map.of(),
        after);
  }

  /** Shows the place of a passcode as dots. */
  static String hidden(String text) {
    return text.replace(LetterValues.PASSCODE_PLACE, "••••");
  }
}
