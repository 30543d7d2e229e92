package glenmoor.core.people;

import java.time.LocalDate;
import java.util.Collections;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * What is known of one person: fact keys to values (String, {@link LocalDate}, Long, Boolean),
 * sorted by key. A fact without a value is not in the map.
 *
 * <p>The keys below have a meaning of their own: the standing, the name and the chain of managers
 * are read from them.
 */
public record Facts(SortedMap<String, Object> values) {
  public static final String GIVEN = "given";
  public static final String FAMILY = "family";
  public static final String START = "start";
  public static final String END = "end";
  public static final String LEAVE_FROM = "leaveFrom";
  public static final String LEAVE_TO = "leaveTo";
  public static final String MANAGER = "manager";

  /** The first day of somebody who counts only once that was agreed to; nobody begins on it. */
  public static final LocalDate NOT_YET = LocalDate.of(2999, 12, 31);

  public Facts {
    values = Collections.unmodifiableSortedMap(new TreeMap<>(values));
  }

  public static Facts of(Map<String, Object> values) {
    return new Facts(new TreeMap<>(values));
  }

  public @Nullable Object get(String key) {
    return values.get(key);
  }

  /** The fact as text, the empty text when it has no value. */
  public String text(String key) {
    var value = values.get(key);
    return value == null ? "" : value.toString();
  }

  /** The fact as a date, when it has one. */
  public Optional<LocalDate> date(String key) {
    return values.get(key) instanceof LocalDate date ? Optional.of(date) : Optional.empty();
  }

  /** Whether they count only once that was agreed to, and have no first day until then. */
  public boolean countLater() {
    return NOT_YET.equals(values.get(START));
  }

  /** How the person is called: given and family name, or the one name they have. */
  public String fullName() {
    return (text(GIVEN) + " " + text(FAMILY)).strip();
  }

  /** The same facts with one of them changed, or taken away when the value is null. */
  public Facts with(String key, @Nullable Object value) {
    var changed = new TreeMap<>(values);
    if (value == null) {
      changed.remove(key);
    } else {
      changed.put(key, value);
    }
    return new Facts(changed);
  }
}
