package glenmoor.core.erasure;

import glenmoor.core.people.Latin;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Finds where texts name somebody who was erased, and puts something else in the place of it. A
 * text is gone through once, however many terms there are: only where a word begins that some term
 * begins with is anything compared.
 */
public final class Mentions {
  /**
   * What stands around a value in JSON, in CSV, in the name of an entry of a directory, in a
   * reference.
   */
  private static final String AROUND = "\"',;|=:\t\r\n";

  /**
   * What names somebody, such as their name, their address or their account.
   *
   * @param text without regard to case; at least one letter or digit
   * @param instead what is put in its place
   * @param onlyWhole whether it counts only where it is all that a text or a value in it says, and
   *     not within a sentence, where it may be another word
   */
  public record Term(String text, String instead, boolean onlyWhole) {}

  private record Found(String text, String instead, boolean onlyWhole) {}

  private final Map<String, List<Found>> byFirstWord = new HashMap<>();

  public Mentions(Collection<Term> terms) {
    for (var term : terms) {
      for (var written : waysToWrite(term.text())) {
        var first = wordAt(written, start(written, 0));
        if (!first.isEmpty()) {
          byFirstWord
              .computeIfAbsent(lower(first), word -> new ArrayList<>())
              .add(new Found(written, term.instead(), term.onlyWhole()));
        }
      }
    }
    // The longest counts: an address before the name it begins with.
    byFirstWord
        .values()
        .forEach(found ->
            found.sort(Comparator.comparingInt((Found each) -> each.text().length()).reversed()));
  }

  public boolean isEmpty() {
    return byFirstWord.isEmpty();
  }

  /** As it is; in plain Latin letters; and as HTML and JSON escape it. */
  private static Set<String> waysToWrite(String text) {
    var ways = new LinkedHashSet<String>();
    for (var each : List.of(text, Latin.letters(text))) {
      ways.add(each);
      ways.add(
          each.replace("&", "&amp;")
              .replace("<", "&lt;")
              .replace(">", "&gt;")
              .replace("\"", "&quot;")
              .replace("'", "&#39;"));
      ways.add(each.replace("\\", "\\\\").replace("\"", "\\\""));
    }
    return ways;
  }

  /** The text without what names them; nothing where it names nobody. */
  public Optional<String> without(String text) {
    @Nullable StringBuilder changed = null;
    var copied = 0;
    for (var at = start(text, 0); at < text.length(); ) {
      var word = wordAt(text, at);
      var found = at(text, at, word);
      if (found == null) {
        at = start(text, at + word.length());
        continue;
      }
      changed = changed == null ? new StringBuilder(text.length()) : changed;
      changed.append(text, copied, at).append(found.instead());
      copied = at + found.text().length();
      at = start(text, copied);
    }
    return changed == null
        ? Optional.empty()
        : Optional.of(changed.append(text, copied, text.length()).toString());
  }

  private @Nullable Found at(String text, int at, String word) {
    for (var found : byFirstWord.getOrDefault(lower(word), List.of())) {
      var end = at + found.text().length();
      if (text.regionMatches(true, at, found.text(), 0, found.text().length())
          && (end == text.length() || !isOfWord(text.codePointAt(end)))
          && (!found.onlyWhole() || isWhole(text, at, end))) {
        return found;
      }
    }
    return null;
  }

  /** Alone, or as one value of several. */
  private static boolean isWhole(String text, int at, int end) {
    return (at == 0 || AROUND.indexOf(text.charAt(at - 1)) >= 0)
        && (end == text.length() || AROUND.indexOf(text.charAt(end)) >= 0);
  }

  /** Where the next word begins; the length of the text if none does. */
  private static int start(String text, int from) {
    var at = from;
    while (at < text.length() && !isOfWord(text.codePointAt(at))) {
      at += Character.charCount(text.codePointAt(at));
    }
    return at;
  }

  private static String wordAt(String text, int from) {
    var end = from;
    while (end < text.length() && isOfWord(text.codePointAt(end))) {
      end += Character.charCount(text.codePointAt(end));
    }
    return text.substring(from, end);
  }

  private static boolean isOfWord(int letter) {
    return Character.isLetterOrDigit(letter)
        || Character.getType(letter) == Character.NON_SPACING_MARK;
  }

  private static String lower(String word) {
    return word.toLowerCase(Locale.ROOT);
  }
}
