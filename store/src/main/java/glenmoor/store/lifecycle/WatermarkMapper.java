package glenmoor.store.lifecycle;

import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code source_watermark}. */
public interface WatermarkMapper {
  /**
   * How far a source's view was read.
   *
   * @param value what was taken; empty for nothing yet
   * @param pending how far it will be once the work has taken what was read
   */
  record Watermark(
      String source, String value, @Nullable String pending, @Nullable Long pendingWork) {}

  @Nullable Watermark of(@Param("source") String source);

  void put(
      @Param("source") String source,
      @Param("value") String value,
      @Param("pending") @Nullable String pending,
      @Param("work") @Nullable Long work);
}
