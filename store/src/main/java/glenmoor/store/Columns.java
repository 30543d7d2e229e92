package glenmoor.store;

import java.lang.reflect.RecordComponent;
import java.util.Locale;

/** What the columns of records are called. */
final class Columns {
  private Columns() {}

  /** A component {@code observedSince} is the column {@code observed_since}. */
  static String of(RecordComponent component) {
    return component.getName().replaceAll("([A-Z])", "_$1").toLowerCase(Locale.ROOT);
  }
}
