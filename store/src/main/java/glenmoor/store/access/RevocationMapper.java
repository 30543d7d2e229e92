package glenmoor.store.access;

import glenmoor.core.access.Grant.Target;
import glenmoor.core.access.Revocation;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** Rows of {@code revocation}. */
@NullMarked
public interface RevocationMapper {
  /**
   * One decision that somebody shall not hold something.
   *
   * @param targetKind {@code entitlement} or {@code package}
   * @param fromAt when it takes effect
   * @param untilAt when it ends; null while nobody has lifted it for a later day
   * @param releasedAt from when on it counts no more, whatever {@code untilAt} says; null while it
   *     counts
   */
  record RevocationRow(
      Long id,
      Long personId,
      String targetKind,
      String targetKey,
      Instant decidedAt,
      String decidedBy,
      Instant fromAt,
      @Nullable Instant untilAt,
      String cause,
      String reason,
      @Nullable Instant releasedAt,
      String releasedBy,
      String releaseReason) {
    public Target target() {
      return targetKind.equals("package")
          ? new Target.OfPackage(targetKey)
          : new Target.OfEntitlement(targetKey);
    }

    public Revocation revocation() {
      return new Revocation(id, target(), decidedAt, fromAt, untilAt, reason);
    }
  }

  /** Those of people that were not lifted: in force, or still to take effect. */
  List<RevocationRow> standing(@Param("people") Collection<Long> people);

  /** Those of people that rest on one decision, such as {@code item:17}, and were not lifted. */
  List<RevocationRow> ofCause(@Param("person") long person, @Param("cause") String cause);

  /** Some of them, lifted or not. */
  List<RevocationRow> byIds(@Param("ids") Collection<Long> ids);

  /** One that was not lifted, for writing; null for none. */
  @Nullable RevocationRow lock(@Param("id") long id);

  void release(
      @Param("id") long id,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /** Has one end at a moment that is still to come. */
  void until(
      @Param("id") long id,
      @Param("until") Instant until,
      @Param("by") String by,
      @Param("reason") String reason);
}
