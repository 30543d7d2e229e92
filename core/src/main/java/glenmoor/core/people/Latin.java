package glenmoor.core.people;

import com.ibm.icu.text.Transliterator;
import java.util.Locale;

/** Names of any script in small Latin letters without marks: for account names and for finding. */
public final class Latin {
  private static final ThreadLocal<Transliterator> TRANSLITERATOR =
      ThreadLocal.withInitial(() ->
          Transliterator.getInstance(
              "Any-Latin; Latin-ASCII; NFD; [:Nonspacing Mark:] Remove; NFC; Lower"));

  private Latin() {}

  /** The letters, with everything else as it was. */
  public static String letters(String text) {
    return isPlain(text) ? text.toLowerCase(Locale.ROOT) : TRANSLITERATOR.get().transliterate(text);
  }

  /** Most names are plain already, and transliterating costs a hundred times as much as looking. */
  private static boolean isPlain(String text) {
    for (var i = 0; i < text.length(); i++) {
      if (text.charAt(i) >= 0x80) {
        return false;
      }
    }
    return true;
  }

  /** Letters and digits only: {@code Ó Briain} is {@code obriain}. */
  public static String fold(String text) {
    return letters(text).replaceAll("[^a-z0-9]", "");
  }

  /** Like {@link #fold} with a hyphen between words. */
  public static String slug(String text) {
    return letters(text).replaceAll("[^a-z0-9]+", "-").replaceAll("^-+|-+$", "");
  }
}
