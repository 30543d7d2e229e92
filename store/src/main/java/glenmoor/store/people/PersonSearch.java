package glenmoor.store.people;

import glenmoor.core.people.Latin;
import java.time.LocalDate;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Which people a list asks for.
 *
 * @param text part of a name, or the beginning of a worker number; null for all
 * @param byWorker which of the two it is
 * @param letters the text as names are searched by it
 * @param facts fact keys and the exact values they shall have
 * @param standing the word of a standing on {@code today}; null for all
 * @param source the key of the one they come from; null for all
 * @param manager a worker number: only those who report to it, or are it
 * @param after the last one of the page before; null for the first page
 */
public record PersonSearch(
    @Nullable String text,
    boolean byWorker,
    @Nullable String letters,
    Map<String, String> facts,
    @Nullable String standing,
    @Nullable String source,
    LocalDate today,
    @Nullable String manager,
    Order order,
    @Nullable After after,
    int limit) {

  /**
   * What they are ordered by; an index serves each, to its last page.
   *
   * @param by {@code name}, {@code worker} or {@code starts}
   * @param down whether the last comes first
   */
  public record Order(String by, boolean down) {
    public static final Order BY_NAME = new Order("name", false);
    public static final Order BY_WORKER = new Order("worker", false);
  }

  /** Where a page ends, by any order. */
  public record After(String letters, String workerKey, @Nullable LocalDate startsOn, long id) {
    /** Where it ends with this person. */
    public static After of(PersonRow row) {
      return new After(
          Latin.letters(row.name()),
          row.workerNumber().toLowerCase(Locale.ROOT),
          row.startsOn(),
          row.id());
    }
  }

  public PersonSearch(
      @Nullable String text,
      boolean byWorker,
      Map<String, String> facts,
      @Nullable String standing,
      LocalDate today,
      @Nullable String manager,
      Order order,
      @Nullable After after,
      int limit) {
    this(
        text,
        byWorker,
        text == null ? null : Latin.letters(text),
        facts,
        standing,
        null,
        today,
        manager,
        order,
        after,
        limit);
  }

  /** The same, but only of those whom one source brings; null for all. */
  public PersonSearch of(@Nullable String source) {
    return new PersonSearch(
        text, byWorker, letters, facts, standing, source, today, manager, order, after, limit);
  }

  /** Whether all that is asked for is a part of a name, in the order of names. */
  public boolean isOfNamesAlone() {
    return text != null
        && !byWorker
        && facts.isEmpty()
        && standing == null
        && source == null
        && manager == null
        && order.by().equals("name");
  }

  /** The first of them by name. */
  public static PersonSearch first(
      @Nullable String text,
      boolean byWorker,
      Map<String, String> facts,
      @Nullable String standing,
      LocalDate today,
      @Nullable String manager,
      int limit) {
    return new PersonSearch(
        text, byWorker, facts, standing, today, manager, Order.BY_NAME, null, limit);
  }
}
