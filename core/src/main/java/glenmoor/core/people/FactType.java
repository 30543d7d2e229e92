package glenmoor.core.people;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Optional;

/** What kind of value a fact holds, and how it is written in a file and in the record. */
public enum FactType {
  /** Any text; an absent one counts as the empty text in a condition. */
  TEXT("text"),
  /** A calendar date, written {@code 2027-03-14}. */
  DATE("date"),
  /** A whole number. */
  NUMBER("number"),
  /** Yes or no; an absent one counts as no. */
  YES_NO("yes-no"),
  /** Another person, by worker number. */
  PERSON("person");

  private final String word;

  FactType(String word) {
    this.word = word;
  }

  /** The word used for this type in a definition. */
  public String word() {
    return word;
  }

  /** Finds the type by its word in a definition. */
  public static Optional<FactType> ofWord(String word) {
    for (var type : values()) {
      if (type.word.equals(word)) {
        return Optional.of(type);
      }
    }
    return Optional.empty();
  }

  /**
   * Reads a value from its text form.
   *
   * @return a String, {@link LocalDate}, Long or Boolean, or nothing when the text is not one
   */
  public Optional<Object> read(String text) {
    try {
      return switch (this) {
        case TEXT, PERSON -> Optional.of(text);
        case DATE -> Optional.of(LocalDate.parse(text));
        case NUMBER -> Optional.of(Long.parseLong(text));
        case YES_NO ->
            switch (text) {
              case "yes", "true", "1" -> Optional.of(true);
              case "no", "false", "0" -> Optional.of(false);
              default -> Optional.empty();
            };
      };
    } catch (DateTimeException | NumberFormatException notOne) {
      return Optional.empty();
    }
  }

  /** What a correct value looks like, for a person who has to mend a wrong one. */
  public String expectation() {
    return switch (this) {
      case TEXT -> "a text";
      case DATE -> "a date written year-month-day, such as 2027-03-14";
      case NUMBER -> "a whole number";
      case YES_NO -> "yes or no";
      case PERSON -> "the worker number of a person";
    };
  }
}
