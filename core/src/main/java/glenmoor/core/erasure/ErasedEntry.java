package glenmoor.core.erasure;

import glenmoor.core.lifecycle.EventKind;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * What stays of an entry of the ledger about somebody who was erased: that it happened, when, by
 * whom, why it came, and which access it was about. All other texts are taken out, since any of
 * them may say something of the person.
 */
public final class ErasedEntry {
  /** Stands where something stood. */
  public static final String ERASED = "erased";

  /** Keys whose values are words and keys of ours, whatever entry they are in. */
  private static final Set<String> STAYS =
      Set.of(
          "application",
          "basis",
          "basisKey",
          "cause",
          "channel",
          "day",
          "decision",
          "duty",
          "endsAt",
          "entitlement",
          "from",
          "kind",
          "letter",
          "line",
          "offer",
          "order",
          "package",
          "playbook",
          "run",
          "startsAt",
          "state",
          "step",
          "target",
          "technical",
          "until",
          "with");

  private static final Set<String> EVENTS =
      Stream.of(EventKind.values()).map(EventKind::word).collect(Collectors.toUnmodifiableSet());

  private ErasedEntry() {}

  /**
   * What stays of the values before or after.
   *
   * @param what the entry says happened; where that is an event, all values are facts
   * @param values texts, numbers, lists and maps of such
   */
  public static Map<String, Object> of(String what, Map<?, ?> values) {
    return EVENTS.contains(what) ? left(values, Set.of()) : left(values, STAYS);
  }

  private static Map<String, Object> left(Map<?, ?> values, Set<String> stays) {
    var left = new LinkedHashMap<String, Object>();
    values.forEach((key, value) -> {
      var name = String.valueOf(key);
      // Of a command it is the same as of an entry; attributes and the like are the person's.
      left.put(
          name,
          value instanceof Map<?, ?> map
              ? left(map, name.equals("command") ? stays : Set.of())
              : stays.contains(name) ? value : ERASED);
    });
    return left;
  }

  /**
   * The hash of a leaf of a Merkle tree (RFC 9162, section 2.1.1): what a proof needs of an entry
   * that does not stand there in full any more.
   */
  public static byte[] leaf(String entry) {
    var digest = DigestUtils.getSha256Digest();
    digest.update((byte) 0);
    return digest.digest(entry.getBytes(StandardCharsets.UTF_8));
  }
}
