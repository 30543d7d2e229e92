package glenmoor.store.time;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;

/**
 * Moments as SQL reads them from text: UTC, to the microsecond, as {@code DATETIME(6)} keeps them.
 */
public final class SqlTime {
  private static final DateTimeFormatter FORMAT =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss.SSSSSS").withZone(ZoneOffset.UTC);

  private SqlTime() {}

  public static String write(Instant at) {
    return FORMAT.format(at);
  }
}
