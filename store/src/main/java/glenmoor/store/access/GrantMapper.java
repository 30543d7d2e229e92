package glenmoor.store.access;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** Rows of {@code access_grant}. */
@NullMarked
public interface GrantMapper {
  record GrantRow(
      Long id,
      Long personId,
      String targetKind,
      String targetKey,
      String basis,
      String basisKey,
      Instant startsAt,
      @Nullable Instant endsAt,
      String endReason) {}

  List<GrantRow> of(@Param("people") Collection<Long> people);

  void end(
      @Param("id") long id,
      @Param("endsAt") @Nullable Instant endsAt,
      @Param("reason") String reason);

  int any();
}
