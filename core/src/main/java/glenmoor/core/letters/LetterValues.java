package glenmoor.core.letters;

import glenmoor.core.conditions.Expressions;
import glenmoor.core.people.Person;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.Map;

/**
 * What the expressions of a letter see: the facts of whom it is about, their account names, and
 * what belongs to the occasion.
 *
 * @param managerName empty where there is none
 * @param recipientName to whom it is addressed
 * @param day the day it is about, such as the first one
 * @param work what waits for the recipient, in a line; empty where it is about nothing of the kind
 * @param link the beginning of an address at which they decide, to which a secret is added while it
 *     is sent; empty where there is none
 */
public record LetterValues(
    Person about,
    Map<String, String> accounts,
    String managerName,
    String recipientName,
    LocalDate day,
    String work,
    String link) {
  /** Where nothing is decided. */
  public LetterValues(
      Person about,
      Map<String, String> accounts,
      String managerName,
      String recipientName,
      LocalDate day,
      String work) {
    this(about, accounts, managerName, recipientName, day, work, "");
  }

  /** The same, with the beginning of the address at which the recipient decides. */
  public LetterValues withLink(String beginning) {
    return new LetterValues(about, accounts, managerName, recipientName, day, work, beginning);
  }

  /** The names of what a letter has beside the facts. */
  public static final String PASSCODE = "passcode";

  public static final String MANAGER = "manager.name";
  public static final String RECIPIENT = "recipient.name";
  public static final String DAY = "day";
  public static final String WORK = "work";
  public static final String LINK = "link";

  /** Stands in a letter where its passcode will be; it is in no text that anybody writes. */
  public static final String PASSCODE_PLACE = "\uE000";

  Map<String, Object> seenBy(Expressions expressions) {
    var values = new HashMap<>(expressions.view(about));
    // Whatever stands in a name, it is no place for a secret.
    values.replaceAll(
        (name, value) -> value instanceof String text ? text.replace(PASSCODE_PLACE, "") : value);
    values.put("accounts", accounts);
    values.put(MANAGER, managerName.replace(PASSCODE_PLACE, ""));
    values.put(RECIPIENT, recipientName.replace(PASSCODE_PLACE, ""));
    values.put(DAY, Expressions.written(day));
    values.put(WORK, work.replace(PASSCODE_PLACE, ""));
    values.put(LINK, link.isEmpty() ? "" : link + PASSCODE_PLACE);
    values.put(PASSCODE, PASSCODE_PLACE);
    return values;
  }

  /** What a template says on this occasion, such as in a ticket. */
  public String fill(Template template, Expressions expressions) {
    return template.filled(seenBy(expressions), Letter::line);
  }

  /** The letter for this occasion. */
  public Letter.Written write(Letter letter, Expressions expressions) {
    return letter.written(seenBy(expressions));
  }
}
