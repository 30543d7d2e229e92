package glenmoor.store.access;

import glenmoor.core.access.CarveOut;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** Rows of {@code carve_out}. */
@NullMarked
public interface CarveOutMapper {
  /**
   * One right that somebody is not given any more by a grant that would.
   *
   * @param grantId {@link CarveOut#EVERY_RULE} for all that rules give
   * @param releasedAt from when on it counts no more; null while it counts
   */
  record CarveOutRow(
      Long id,
      Long personId,
      String entitlement,
      Long grantId,
      Instant madeAt,
      String madeBy,
      String cause,
      String reason,
      @Nullable Instant releasedAt,
      String releasedBy,
      String releaseReason) {
    public CarveOut carveOut() {
      return new CarveOut(entitlement, grantId);
    }
  }

  /** Those of people that count. */
  List<CarveOutRow> inForce(@Param("people") Collection<Long> people);

  /** One that counts, for writing; null for none. */
  @Nullable CarveOutRow lock(@Param("id") long id);

  void release(
      @Param("id") long id,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);
}
