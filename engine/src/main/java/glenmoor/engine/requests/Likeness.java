package glenmoor.engine.requests;

import glenmoor.core.people.Latin;
import java.util.Arrays;
import java.util.List;
import org.apache.commons.text.similarity.JaroWinklerSimilarity;
import org.apache.commons.text.similarity.LevenshteinDistance;

/**
 * How well what somebody looks for fits what a thing is called. Each word looked for has to be
 * found in some place: as it is, as the beginning of a word, or, where it is long enough to be
 * meant, with a typing error or two.
 */
final class Likeness {
  private static final int ONE_ERROR_FROM = 4;
  private static final int TWO_ERRORS_FROM = 8;
  private static final LevenshteinDistance ERRORS = new LevenshteinDistance(2);
  private static final JaroWinklerSimilarity ALIKE = new JaroWinklerSimilarity();
  private static final double SWAPPED = 0.94;
  private static final double WHOLE = 4;
  private static final double BEGINNING = 3;
  private static final double INSIDE = 2;
  private static final double MISTYPED = 1;

  private Likeness() {}

  /** The words of a text, in small Latin letters. */
  static List<String> words(String text) {
    return Arrays.stream(text.strip().split("[\\s,;/&-]+"))
        .map(Latin::fold)
        .filter(word -> !word.isEmpty())
        .toList();
  }

  /**
   * How well it fits; 0 where a word is found nowhere, 1 where nothing is looked for.
   *
   * @param said what the thing is called, the most telling first
   */
  static double of(List<String> words, List<String> said) {
    var sum = 1.0;
    for (var word : words) {
      var best = 0.0;
      for (var i = 0; i < said.size(); i++) {
        best = Math.max(best, of(word, words(said.get(i))) / (1 + i * 0.2));
      }
      if (best == 0) {
        return 0;
      }
      sum += best;
    }
    return sum;
  }

  private static double of(String word, List<String> among) {
    return among.stream().mapToDouble(each -> of(word, each)).max().orElse(0);
  }

  private static double of(String word, String other) {
    if (other.equals(word)) {
      return WHOLE;
    }
    if (other.startsWith(word)) {
      return BEGINNING;
    }
    if (other.contains(word)) {
      return INSIDE;
    }
    var allowed = word.length() >= TWO_ERRORS_FROM ? 2 : word.length() >= ONE_ERROR_FROM ? 1 : 0;
    if (allowed == 0) {
      return 0;
    }
    var errors = ERRORS.apply(word, other);
    // Two letters that changed places are two errors by that count.
    return errors >= 0 && errors <= allowed || ALIKE.apply(word, other) >= SWAPPED ? MISTYPED : 0;
  }
}
