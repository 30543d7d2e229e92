package glenmoor.core.people;

import java.text.Normalizer;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * The stable key of a person in the HR source; never reused.
 *
 * <p>It is made of the letters A to Z, digits, and in between them hyphens, dots and underscores,
 * so that it can stand in an address, a file and a directory everywhere. Two that differ only in
 * case, in the width of their letters or in spaces around them are the same person's.
 */
public record WorkerNumber(String value) implements Comparable<WorkerNumber> {
  public static final int LONGEST = 64;
  public static final String EXPECTED =
      "a worker number of at most 64 letters A to Z and digits, with single hyphens, dots or underscores between them";
  private static final Pattern ALPHABET = Pattern.compile("[A-Za-z0-9]+(?:[-._]+[A-Za-z0-9]+)*");

  public WorkerNumber {
    if (value.isBlank()) {
      throw new IllegalArgumentException("A worker number cannot be empty.");
    }
  }

  /** Reads one as it stands in a file: full-width letters become plain, spaces around it go. */
  public static Optional<WorkerNumber> read(String text) {
    var plain = plain(text);
    return plain.length() <= LONGEST && ALPHABET.matcher(plain).matches() && !plain.contains("..")
        ? Optional.of(new WorkerNumber(plain))
        : Optional.empty();
  }

  private static String plain(String text) {
    return Spaces.strip(Normalizer.normalize(text, Normalizer.Form.NFKC));
  }

  /** What is compared: equal for all spellings of the same worker number. */
  public static String key(String text) {
    return plain(text).toLowerCase(Locale.ROOT);
  }

  /** The same of somebody who may have none: empty then. */
  public static String keyOrNone(@Nullable String text) {
    return text == null ? "" : key(text);
  }

  public String key() {
    return key(value);
  }

  @Override
  public int compareTo(WorkerNumber other) {
    return value.compareTo(other.value);
  }

  @Override
  public String toString() {
    return value;
  }
}
