package glenmoor.core.ledger;

import java.util.Collection;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Writes JSON in the one form that equal values share (RFC 8785): keys sorted by UTF-16 code units,
 * no white space, only what must be escaped is. Numbers are whole and below 2^53, so that the part
 * of the standard about fractions is never needed; anything else is written as its text.
 */
public final class CanonicalJson {
  private static final long LARGEST = 1L << 53;

  private CanonicalJson() {}

  public static String write(@Nullable Object value) {
    var out = new StringBuilder(256);
    value(out, value);
    return out.toString();
  }

  private static void value(StringBuilder out, @Nullable Object value) {
    switch (value) {
      case null -> out.append("null");
      case Map<?, ?> map -> map(out, map);
      case Collection<?> items -> items(out, items);
      case Boolean yesNo -> out.append(yesNo);
      case Integer number -> out.append(number);
      case Long number when Math.abs(number) < LARGEST -> out.append(number);
      default -> text(out, value.toString());
    }
  }

  private static void map(StringBuilder out, Map<?, ?> map) {
    out.append('{');
    var first = true;
    for (var entry : (isSorted(map) ? map : sorted(map)).entrySet()) {
      if (entry.getValue() == null) {
        continue;
      }
      if (!first) {
        out.append(',');
      }
      first = false;
      text(out, entry.getKey().toString());
      out.append(':');
      value(out, entry.getValue());
    }
    out.append('}');
  }

  /** Texts compare by their UTF-16 code units, as the standard wants it. */
  private static boolean isSorted(Map<?, ?> map) {
    return map instanceof SortedMap<?, ?> sorted
        && sorted.comparator() == null
        && (sorted.isEmpty() || sorted.firstKey() instanceof String);
  }

  private static Map<String, Object> sorted(Map<?, ?> map) {
    var sorted = new TreeMap<String, Object>();
    map.forEach((key, value) -> {
      if (value != null) {
        sorted.put(key.toString(), value);
      }
    });
    return sorted;
  }

  private static void items(StringBuilder out, Collection<?> items) {
    out.append('[');
    var first = true;
    for (var item : items) {
      if (!first) {
        out.append(',');
      }
      first = false;
      value(out, item);
    }
    out.append(']');
  }

  private static void text(StringBuilder out, String text) {
    out.append('"');
    var plainFrom = 0;
    for (var i = 0; i < text.length(); i++) {
      var c = text.charAt(i);
      if (c < ' ' || c == '"' || c == '\\') {
        out.append(text, plainFrom, i);
        escaped(out, c);
        plainFrom = i + 1;
      }
    }
    out.append(text, plainFrom, text.length()).append('"');
  }

  private static void escaped(StringBuilder out, char c) {
    switch (c) {
      case '"' -> out.append("\\\"");
      case '\\' -> out.append("\\\\");
      case '\b' -> out.append("\\b");
      case '\f' -> out.append("\\f");
      case '\n' -> out.append("\\n");
      case '\r' -> out.append("\\r");
      case '\t' -> out.append("\\t");
      default -> out.append("\\u%04x".formatted((int) c));
    }
  }
}
