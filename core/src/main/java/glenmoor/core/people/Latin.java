package glenmoor.core.people;

import com.ibm.icu.text.Transliterator;
import java.lang.Character.UnicodeScript;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Names of any script in small Latin letters without marks: for account names and for finding.
 *
 * <p>Each script has its own rules, by ICU: Cyrillic as its language writes it where a letter tells
 * which one that is (else as Russian), Greek, Hebrew, Arabic and Korean as maps do, Han as Chinese
 * names are read. Ayin and aleph are written a, so that a name that begins with one does not lose
 * its beginning. What is left without a Latin letter gives nothing: an account is then named by the
 * worker number.
 */
public final class Latin {
  private static final String PLAIN =
      "; Any-Latin; Latin-ASCII; NFD; [:Nonspacing Mark:] Remove; NFC; Lower";
  private static final Map<String, ThreadLocal<Transliterator>> BY_RULE = new ConcurrentHashMap<>();

  /** Letters that only one of the languages written in Cyrillic has. */
  private static final Map<String, String> CYRILLIC = new LinkedHashMap<>();

  static {
    CYRILLIC.put("ўЎ", "Belarusian-Latin/BGN");
    CYRILLIC.put("іїєґІЇЄҐ", "Ukrainian-Latin/BGN");
    CYRILLIC.put("ѓќѕЃЌЅ", "Macedonian-Latin/BGN");
    CYRILLIC.put("ђјљњћџЂЈЉЊЋЏ", "Serbian-Latin/BGN");
    CYRILLIC.put("қғңұҚҒҢҰ", "Kazakh-Latin/BGN");
  }

  private Latin() {}

  /** The letters, with everything else as it was. */
  public static String letters(String text) {
    return isPlain(text)
        ? text.toLowerCase(Locale.ROOT)
        : transliterator(rule(text)).transliterate(withoutThroats(text));
  }

  private static Transliterator transliterator(String rule) {
    return BY_RULE
        .computeIfAbsent(
            rule, id -> ThreadLocal.withInitial(() -> Transliterator.getInstance(id + PLAIN)))
        .get();
  }

  /** By the script of the first letter that is not Latin. */
  private static String rule(String text) {
    return text.codePoints()
        .mapToObj(UnicodeScript::of)
        .filter(script -> script != UnicodeScript.COMMON && script != UnicodeScript.INHERITED)
        .filter(script -> script != UnicodeScript.LATIN)
        .findFirst()
        .map(script ->
            switch (script) {
              case CYRILLIC -> cyrillic(text);
              case GREEK -> "Greek-Latin/UNGEGN";
              case HEBREW -> "Hebrew-Latin";
              case ARABIC -> "Arabic-Latin";
              case HAN -> "Han-Latin/Names";
              case HANGUL -> "Korean-Latin/BGN";
              default -> "Any-Latin";
            })
        .orElse("Any-Latin");
  }

  private static String cyrillic(String text) {
    for (var language : CYRILLIC.entrySet()) {
      if (text.codePoints().anyMatch(letter -> language.getKey().indexOf(letter) >= 0)) {
        return language.getValue();
      }
    }
    return "Russian-Latin/BGN";
  }

  /** Ayin and aleph, in Arabic and Hebrew. */
  private static String withoutThroats(String text) {
    return text.replaceAll("[عאע]", "a");
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

  /**
   * The first letter of each word: {@code Una Mary} is {@code um}, {@code Ó Briain} is {@code ob}.
   */
  public static String initials(String text) {
    var initials = new StringBuilder();
    for (var word : letters(text).split("[^a-z0-9]+")) {
      if (!word.isEmpty()) {
        initials.append(word.charAt(0));
      }
    }
    return initials.toString();
  }

  /** Like {@link #fold} with a hyphen between words. */
  public static String slug(String text) {
    return letters(text).replaceAll("[^a-z0-9]+", "-").replaceAll("^-+|-+$", "");
  }
}
