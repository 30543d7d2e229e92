package glenmoor.core.access;

import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/**
 * One person's holding of a package or an entitlement.
 *
 * @param target what is held
 * @param basis what it rests on
 * @param basisKey the birthright's key, or empty
 * @param decidedAt when somebody decided that the person shall have it; null where nobody did,
 *     because a rule gives it or it was adopted without a decision
 * @param startsAt from when, inclusive
 * @param endsAt until when, exclusive; null while open-ended
 * @param without entitlements that it does not give, because they are revoked
 */
@NullMarked
public record Grant(
    long id,
    PersonId person,
    Target target,
    Basis basis,
    String basisKey,
    @Nullable Instant decidedAt,
    Instant startsAt,
    @Nullable Instant endsAt,
    String endReason,
    Set<String> without) {
  /** One that gives all of it, and was decided on when it began unless a rule gives it. */
  public Grant(
      long id,
      PersonId person,
      Target target,
      Basis basis,
      String basisKey,
      Instant startsAt,
      @Nullable Instant endsAt,
      String endReason) {
    this(
        id,
        person,
        target,
        basis,
        basisKey,
        basis == Basis.BIRTHRIGHT ? null : startsAt,
        startsAt,
        endsAt,
        endReason,
        Set.of());
  }

  /** What a grant gives. */
  public sealed interface Target {
    String key();

    /** All of a package's entitlements, as the package stands at the moment. */
    record OfPackage(String key) implements Target {}

    /** One entitlement by itself. */
    record OfEntitlement(String key) implements Target {}
  }

  /** What a grant rests on. */
  public enum Basis {
    BIRTHRIGHT("birthright"),
    REQUEST("request"),
    DIRECT("direct"),
    DISCOVERED("discovered");

    private final String word;

    Basis(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Basis ofWord(String word) {
      return Arrays.stream(values()).filter(b -> b.word.equals(word)).findFirst().orElseThrow();
    }
  }

  public boolean inForce(Instant at) {
    return !at.isBefore(startsAt) && (endsAt == null || at.isBefore(endsAt));
  }

  public boolean over(Instant at) {
    return endsAt != null && !at.isBefore(endsAt);
  }

  /** The grants there are once some were amended, by their identities, and others begun. */
  public static List<Grant> after(List<Grant> before, List<Grant> amended, List<Grant> begun) {
    var byId = new TreeMap<Long, Grant>();
    before.forEach(grant -> byId.put(grant.id(), grant));
    amended.forEach(grant -> byId.put(grant.id(), grant));
    return Stream.concat(byId.values().stream(), begun.stream()).toList();
  }

  /** The same, giving none of these either. */
  public Grant without(Set<String> revoked) {
    var all = new TreeSet<>(without);
    all.addAll(revoked);
    return new Grant(
        id, person, target, basis, basisKey, decidedAt, startsAt, endsAt, endReason, all);
  }

  public Grant ending(@Nullable Instant end, String reason) {
    return new Grant(
        id, person, target, basis, basisKey, decidedAt, startsAt, end, reason, without);
  }
}
