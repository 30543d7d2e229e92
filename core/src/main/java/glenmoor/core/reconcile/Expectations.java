package glenmoor.core.reconcile;

import glenmoor.core.applications.AccountState;
import it.unimi.dsi.fastutil.ints.IntArrayList;
import it.unimi.dsi.fastutil.longs.Long2IntOpenHashMap;
import it.unimi.dsi.fastutil.longs.LongArrayList;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.LongConsumer;
import org.bouncycastle.crypto.macs.SipHash;
import org.bouncycastle.crypto.params.KeyParameter;
import org.jspecify.annotations.Nullable;
import org.roaringbitmap.RoaringBitmap;

/**
 * Tells, while an application is listed, which of its accounts are as they should be: only the
 * others are kept and compared. Nearly all agree on most days, so this is what makes a comparison
 * cost little more than the reading.
 *
 * <p>Of an account some numbers are kept, not the account: hashes of what it should be (SipHash-2-4
 * with a key that is drawn anew each time, so that nobody can prepare an account that passes for
 * another), and who holds what as bitmaps. Wherever there is any doubt an account counts as
 * differing, which costs a look and is no judgement.
 *
 * <p>Used in this order: {@link #expect} for each account of the application, {@link #listed} for
 * each that it has, {@link #holds} for each right, then the questions. Not for several threads, but
 * that one may tell of rights with {@link #expectRight} while another listens to the application.
 */
public final class Expectations {
  /**
   * An account as it should be.
   *
   * @param nativeId the application's identity of it; null while unknown
   * @param worker the worker number of whose it is
   * @param attributes as canonical JSON
   * @param seenThere whether it was there when it was last seen
   */
  public record Expected(
      long id,
      @Nullable String nativeId,
      String worker,
      String name,
      String container,
      String attributes,
      AccountState state,
      boolean seenThere) {}

  /**
   * Where an account stands among those that are listed.
   *
   * @param number what {@link #holds} is told of under the account's reference
   * @param agrees whether it need not be kept for what it is; its rights may still differ
   * @param account which account it is by the application's identity, 0 for none
   */
  public record Place(int number, boolean agrees, long account) {}

  private static final int NONE = -1;
  private static final int KEY_BYTES = 16;

  private final SipHash hash = new SipHash();
  private final LongArrayList ids = new LongArrayList();
  private final LongArrayList contents = new LongArrayList();
  private final LongArrayList workers = new LongArrayList();
  private final RoaringBitmap due = new RoaringBitmap();
  private final RoaringBitmap wanted = new RoaringBitmap();
  private final Long2IntOpenHashMap byNativeId = map();
  private final Map<String, RoaringBitmap> expected = new TreeMap<>();

  private final Long2IntOpenHashMap byReference = map();
  private final IntArrayList slots = new IntArrayList();
  private final IntArrayList numbers = new IntArrayList();
  private final RoaringBitmap seen = new RoaringBitmap();
  private final RoaringBitmap doubtful = new RoaringBitmap();
  private final RoaringBitmap kept = new RoaringBitmap();
  private final Map<String, RoaringBitmap> found = new TreeMap<>();

  public Expectations() {
    var key = new byte[KEY_BYTES];
    new SecureRandom().nextBytes(key);
    hash.init(new KeyParameter(key));
  }

  private static Long2IntOpenHashMap map() {
    var map = new Long2IntOpenHashMap();
    map.defaultReturnValue(NONE);
    return map;
  }

  /** Notes an account; they come in the order of their identities. */
  public void expect(Expected account) {
    var slot = ids.size();
    ids.add(account.id());
    numbers.add(NONE);
    contents.add(
        content(
            account.name(),
            account.container(),
            account.state() == AccountState.ENABLED,
            account.attributes()));
    workers.add(of(account.worker()));
    if (account.state() != AccountState.NONE) {
      wanted.add(slot);
      if (account.seenThere()) {
        due.add(slot);
      }
    }
    if (account.nativeId() != null && byNativeId.put(of(account.nativeId()), slot) != NONE) {
      throw new IllegalStateException("Two accounts of the same native id: " + account.nativeId());
    }
  }

  /** Notes that an account should hold a right; of an account that was not noted it is nothing. */
  public void expectRight(long account, String entitlement) {
    var slot = slot(account);
    if (slot >= 0) {
      bits(expected, entitlement).add(slot);
    }
  }

  /**
   * Takes an account as the application lists it.
   *
   * @param worker the worker number that it carries, empty if none
   * @param attributes as canonical JSON
   */
  public Place listed(
      String reference,
      String nativeId,
      String worker,
      String name,
      String container,
      boolean enabled,
      String attributes) {
    var number = number(reference);
    var slot = nativeId.isEmpty() ? NONE : byNativeId.get(of(nativeId));
    slots.set(number, slot);
    if (slot != NONE) {
      seen.add(slot);
      // Where one is given twice the last counts.
      numbers.set(slot, number);
    }
    var agrees =
        slot != NONE
            && wanted.contains(slot)
            && !doubtful.contains(slot)
            && contents.getLong(slot) == content(name, container, enabled, attributes)
            // One that carries another's number says something about that other one.
            && (worker.isEmpty() || workers.getLong(slot) == of(worker));
    if (!agrees) {
      kept.add(number);
      if (slot != NONE) {
        doubtful.add(slot);
      }
    }
    return new Place(number, agrees, slot == NONE ? 0 : ids.getLong(slot));
  }

  private int number(String reference) {
    var key = of(reference);
    var known = byReference.get(key);
    if (known != NONE) {
      return known;
    }
    var number = slots.size();
    slots.add(NONE);
    byReference.put(key, number);
    return number;
  }

  /** Takes that an account holds a right; of one that was not listed it is nothing. */
  public void holds(String reference, String entitlement) {
    var number = byReference.get(of(reference));
    if (number != NONE) {
      bits(found, entitlement).add(number);
    }
  }

  /** Takes that an account was found by other means than its identity. */
  public void seen(long account) {
    var slot = slot(account);
    if (slot >= 0) {
      seen.add(slot);
    }
  }

  /** Whether an account was listed under its identity. */
  public boolean isSeen(long account) {
    var slot = slot(account);
    return slot >= 0 && seen.contains(slot);
  }

  /** Gets an account and the number that it was listed under. */
  public interface Each {
    void account(long id, int number);
  }

  /**
   * Gives the accounts that agree but for their rights; from now on they count among those that are
   * kept.
   */
  public void differingRights(Each each) {
    var differing = new RoaringBitmap();
    var entitlements = new TreeMap<>(expected);
    entitlements.putAll(found);
    for (var entitlement : entitlements.keySet()) {
      var here = new RoaringBitmap();
      bitsOf(expected, entitlement)
          .forEach((int slot) -> {
            if (numbers.getInt(slot) != NONE) {
              here.add(numbers.getInt(slot));
            }
          });
      here.xor(bitsOf(found, entitlement));
      differing.or(here);
    }
    if (differing.isEmpty()) {
      return;
    }
    RoaringBitmap.andNot(seen, doubtful)
        .forEach((int slot) -> {
          var number = numbers.getInt(slot);
          if (number != NONE && differing.contains(number)) {
            kept.add(number);
            each.account(ids.getLong(slot), number);
          }
        });
  }

  /** Gets that the account listed under a number holds a right. */
  public interface Right {
    void held(int number, String entitlement);
  }

  /** Gives what the accounts hold that are kept. */
  public void keptRights(Right each) {
    found.forEach((entitlement, holders) ->
        RoaringBitmap.and(holders, kept).forEach((int number) -> each.held(number, entitlement)));
  }

  /** Gives the accounts that should be there, were, and are not seen any more. */
  public void missing(LongConsumer each) {
    RoaringBitmap.andNot(due, seen).forEach((int slot) -> each.accept(ids.getLong(slot)));
  }

  /** Negative where it was not noted. */
  private int slot(long account) {
    return Arrays.binarySearch(ids.elements(), 0, ids.size(), account);
  }

  private long content(String name, String container, boolean enabled, String attributes) {
    return of(
        name.length() + ":" + name + container.length() + ":" + container + enabled + attributes);
  }

  private long of(String text) {
    var bytes = text.getBytes(StandardCharsets.UTF_8);
    hash.update(bytes, 0, bytes.length);
    return hash.doFinal();
  }

  private static RoaringBitmap bits(Map<String, RoaringBitmap> bits, String entitlement) {
    return bits.computeIfAbsent(entitlement, key -> new RoaringBitmap());
  }

  private static RoaringBitmap bitsOf(Map<String, RoaringBitmap> bits, String entitlement) {
    var those = bits.get(entitlement);
    return those == null ? new RoaringBitmap() : those;
  }
}
