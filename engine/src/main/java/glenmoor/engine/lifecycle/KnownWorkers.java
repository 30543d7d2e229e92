package glenmoor.engine.lifecycle;

import glenmoor.core.people.WorkerNumber;
import glenmoor.store.people.KnownPeople;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.function.Function;
import java.util.function.LongConsumer;
import javax.sql.DataSource;

/**
 * Who is known, of one source and of the others, and the digest of what was last said of them:
 * enough to tell, without a person in memory, which rows of a feed are new, changed or as before,
 * and who is missing.
 *
 * <p>An open-addressing table over 128-bit digests in plain arrays: 49 bytes a person, so a million
 * people take 98 MB at the table's half load, and the same feed again costs one pass over the file
 * and one over the index. Digests are for noticing a change, not for security; two different texts
 * share one with a chance of about 1 in 2^88 for a million of them.
 */
final class KnownWorkers {
  /** A digest of 128 bits. */
  record Digest(long high, long low) {
    String hex() {
      return HexFormat.of().toHexDigits(high) + HexFormat.of().toHexDigits(low);
    }
  }

  private final MessageDigest md5;
  private long[] keyHigh = new long[1 << 12];
  private long[] keyLow = new long[1 << 12];
  private long[] valueHigh = new long[1 << 12];
  private long[] valueLow = new long[1 << 12];
  private long[] ids = new long[1 << 12];
  private byte[] marks = new byte[1 << 12];
  private int size;
  private int present;

  private static final byte USED = 1;
  private static final byte ABSENT = 2;
  private static final byte SEEN = 4;
  private static final byte OWN = 8;

  KnownWorkers() {
    md5 = fresh();
  }

  private static MessageDigest fresh() {
    try {
      return MessageDigest.getInstance("MD5");
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  /** Reads who is known of a source. */
  static KnownWorkers of(DataSource dataSource, String source) {
    var known = new KnownWorkers();
    KnownPeople.each(dataSource, source, known::add);
    return known;
  }

  Digest digest(String text) {
    var buffer = ByteBuffer.wrap(md5.digest(text.getBytes(StandardCharsets.UTF_8)));
    return new Digest(buffer.getLong(), buffer.getLong());
  }

  /** Digests of texts that all begin in the same way, which is gone through once. */
  Function<String, Digest> after(String beginning) {
    var begun = fresh();
    begun.update(beginning.getBytes(StandardCharsets.UTF_8));
    return rest -> {
      try {
        var whole = (MessageDigest) begun.clone();
        var buffer = ByteBuffer.wrap(whole.digest(rest.getBytes(StandardCharsets.UTF_8)));
        return new Digest(buffer.getLong(), buffer.getLong());
      } catch (CloneNotSupportedException unlikely) {
        return digest(beginning + rest);
      }
    };
  }

  /**
   * Adds somebody who is known.
   *
   * @param workerKey of their worker number
   * @param digest what was last said of them
   * @param own whether this source brought them
   */
  void add(String workerKey, long id, byte[] digest, boolean absent, boolean own) {
    if (size * 2 >= marks.length) {
      grow();
    }
    var key = digest(workerKey);
    var slot = free(key);
    var value = ByteBuffer.wrap(digest);
    keyHigh[slot] = key.high();
    keyLow[slot] = key.low();
    valueHigh[slot] = value.getLong();
    valueLow[slot] = value.getLong();
    ids[slot] = id;
    marks[slot] = (byte) (USED | (absent ? ABSENT : 0) | (own ? OWN : 0));
    present += own && !absent ? 1 : 0;
    size++;
  }

  int size() {
    return size;
  }

  /** How many this source has brought that are not counted as gone. */
  int present() {
    return present;
  }

  /** Where somebody stands in the table; negative if they are not known. */
  int find(String worker) {
    return slot(digest(WorkerNumber.key(worker)));
  }

  /** Whether somebody is known, from whichever source. */
  boolean isKnown(String worker) {
    return find(worker) >= 0;
  }

  /** Notes that somebody who is known was in the feed, whatever their row was worth. */
  void see(int found) {
    if (found >= 0) {
      marks[found] |= SEEN;
    }
  }

  /** Whether exactly this was last said of them, and they are not counted as gone. */
  boolean isAsBefore(int found, Digest said) {
    return found >= 0
        && valueHigh[found] == said.high()
        && valueLow[found] == said.low()
        && (marks[found] & (ABSENT | OWN)) == OWN;
  }

  /** Goes over those whom this source has brought, not counted as gone, and were not seen. */
  void missing(LongConsumer each) {
    for (var slot = 0; slot < marks.length; slot++) {
      if ((marks[slot] & (USED | OWN | SEEN | ABSENT)) == (USED | OWN)) {
        each.accept(ids[slot]);
      }
    }
  }

  private int slot(Digest key) {
    var slot = (int) key.low() & (marks.length - 1);
    while ((marks[slot] & USED) != 0) {
      if (keyHigh[slot] == key.high() && keyLow[slot] == key.low()) {
        return slot;
      }
      slot = (slot + 1) & (marks.length - 1);
    }
    return -1;
  }

  private int free(Digest key) {
    var slot = (int) key.low() & (marks.length - 1);
    while ((marks[slot] & USED) != 0) {
      slot = (slot + 1) & (marks.length - 1);
    }
    return slot;
  }

  private void grow() {
    var oldKeyHigh = keyHigh;
    var oldKeyLow = keyLow;
    var oldValueHigh = valueHigh;
    var oldValueLow = valueLow;
    var oldIds = ids;
    var oldMarks = marks;
    var length = oldMarks.length * 2;
    keyHigh = new long[length];
    keyLow = new long[length];
    valueHigh = new long[length];
    valueLow = new long[length];
    ids = new long[length];
    marks = new byte[length];
    for (var old = 0; old < oldMarks.length; old++) {
      if ((oldMarks[old] & USED) != 0) {
        var slot = free(new Digest(oldKeyHigh[old], oldKeyLow[old]));
        keyHigh[slot] = oldKeyHigh[old];
        keyLow[slot] = oldKeyLow[old];
        valueHigh[slot] = oldValueHigh[old];
        valueLow[slot] = oldValueLow[old];
        ids[slot] = oldIds[old];
        marks[slot] = oldMarks[old];
      }
    }
  }
}
