package glenmoor.core.applications;

import java.text.Normalizer;
import java.util.Locale;

/** What of an account name is compared, as applications compare names. */
public final class NameKey {
  private NameKey() {}

  /** No case, no width of letters, no spaces around. */
  public static String of(String name) {
    return Normalizer.normalize(name.strip(), Normalizer.Form.NFKC).toLowerCase(Locale.ROOT);
  }
}
