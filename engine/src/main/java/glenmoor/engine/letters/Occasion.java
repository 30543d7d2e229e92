package glenmoor.engine.letters;

import glenmoor.core.letters.LetterValues;
import glenmoor.core.people.Person;
import glenmoor.store.people.PersonRow;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;

/**
 * Whom messages are about, with what they may say of them.
 *
 * @param accounts names by application
 * @param manager nothing where their facts name nobody who is known and here
 */
public record Occasion(
    PersonRow row, Person person, Map<String, String> accounts, Optional<PersonRow> manager) {

  /**
   * What the expressions of a message see.
   *
   * @param day the day it is about
   */
  public LetterValues values(String recipientName, LocalDate day) {
    return values(recipientName, day, "");
  }

  /**
   * The same, where something waits for the recipient.
   *
   * @param work what waits, in a line
   */
  LetterValues values(String recipientName, LocalDate day, String work) {
    return new LetterValues(
        person, accounts, manager.map(PersonRow::name).orElse(""), recipientName, day, work);
  }
}
