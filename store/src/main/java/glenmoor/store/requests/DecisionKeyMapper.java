package glenmoor.store.requests;

import java.time.Instant;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code decision_key}. */
public interface DecisionKeyMapper {
  /**
   * What leads somebody to one decision.
   *
   * @param usedAt null as long as it was not used
   */
  record KeyRow(
      byte[] keyHash,
      Long lineId,
      Long personId,
      Instant madeAt,
      Instant expiresAt,
      @Nullable Instant usedAt) {}

  void insert(KeyRow row);

  /** Locks one until the transaction ends. */
  @Nullable KeyRow lock(@Param("hash") byte[] hash);

  void use(@Param("hash") byte[] hash, @Param("now") Instant now);

  /**
   * Deletes some of those whose time was over before a moment.
   *
   * @return how many; 0 when there are no more
   */
  int forget(@Param("before") Instant before);
}
