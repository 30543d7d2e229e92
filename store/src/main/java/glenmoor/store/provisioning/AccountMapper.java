package glenmoor.store.provisioning;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code account} and {@code holding}. */
public interface AccountMapper {
  record AccountRow(
      Long id,
      Long personId,
      String application,
      String baseName,
      Integer number,
      String name,
      String container,
      String attributes,
      String state,
      String seenState,
      String nativeId,
      @Nullable Instant heldSince,
      Integer nextSequence) {}

  record HoldingRow(
      Long accountId,
      String entitlement,
      Boolean wanted,
      Boolean held,
      @Nullable Instant heldSince) {}

  record Highest(String baseName, Integer number) {}

  List<AccountRow> of(@Param("people") Collection<Long> people);

  List<HoldingRow> holdings(@Param("accounts") Collection<Long> accounts);

  List<Highest> highest(
      @Param("application") String application, @Param("bases") Collection<String> bases);

  void insert(@Param("accounts") List<AccountRow> accounts);

  void update(@Param("accounts") List<AccountRow> accounts);

  void want(@Param("holdings") List<HoldingRow> holdings);

  void nextSequence(@Param("id") long id, @Param("next") int next);

  void seen(
      @Param("id") long id,
      @Param("state") @Nullable String state,
      @Param("nativeId") @Nullable String nativeId);

  void hold(
      @Param("account") long account,
      @Param("entitlement") String entitlement,
      @Param("held") boolean held,
      @Param("at") Instant at);
}
