package glenmoor.store.people;

import glenmoor.core.people.Latin;
import java.time.LocalDate;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Which people a list asks for.
 *
 * @param text part of a name or the beginning of a worker number; null for all
 * @param facts fact keys and the exact values they shall have
 * @param standing the word of a standing on {@code today}; null for all
 * @param manager a worker number: only those who report to it, or are it
 * @param letters the text as names are searched by it
 * @param afterLetters and {@code afterId}: the last one of the page before; null for the first page
 */
public record PersonSearch(
    @Nullable String text,
    @Nullable String letters,
    Map<String, String> facts,
    @Nullable String standing,
    LocalDate today,
    @Nullable String manager,
    @Nullable String afterLetters,
    @Nullable Long afterId,
    int limit) {

  public PersonSearch(
      @Nullable String text,
      Map<String, String> facts,
      @Nullable String standing,
      LocalDate today,
      @Nullable String manager,
      @Nullable String afterName,
      @Nullable Long afterId,
      int limit) {
    this(
        text,
        text == null ? null : Latin.letters(text),
        facts,
        standing,
        today,
        manager,
        afterName == null ? null : Latin.letters(afterName),
        afterId,
        limit);
  }
}
