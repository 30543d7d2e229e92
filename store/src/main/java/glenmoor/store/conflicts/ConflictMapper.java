package glenmoor.store.conflicts;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.session.ResultHandler;
import org.jspecify.annotations.Nullable;

/** Rows of {@code conflict}, and the scan that finds them. */
public interface ConflictMapper {
  /** What changes whenever somebody may hold something else: cheap to ask for. */
  String marker();

  /** The marker of the last scan, locked until the transaction ends: one scans at a time. */
  String lockScan();

  void scanned(@Param("marker") String marker, @Param("now") Instant now);

  void clearFound();

  /** Somebody who holds something, or is to. */
  record HolderRow(String entitlement, Long personId) {}

  /** Somebody who breaks a rule. */
  record FoundRow(String ruleKey, Long personId) {}

  /** Gives everybody who holds some of these, or is to, an entitlement after the other. */
  void holders(
      @Param("entitlements") Collection<String> entitlements, ResultHandler<HolderRow> each);

  /** How many are found of each rule that is no rule any more, or does not count: none. */
  int begin(@Param("now") Instant now);

  int endGone(@Param("now") Instant now);

  /**
   * A conflict in a list.
   *
   * @param exemptUntil while somebody has allowed it; null while nobody has
   */
  record ConflictRow(
      Long id,
      Long personId,
      String worker,
      String person,
      String facts,
      String ruleKey,
      Instant foundAt,
      @Nullable Instant endedAt,
      @Nullable Instant exemptUntil,
      @Nullable String exemptBy,
      @Nullable String exemptControl) {}

  /**
   * Conflicts that are not over, the last found first.
   *
   * @param rules only of these; there is at least one
   * @param manager only of people who report to them, by {@code WorkerNumber.key}, and of the rules
   *     in {@code seen}; null for all
   * @param seen rules of which the conflicts of everybody are meant; none where there is no manager
   * @param state open, exempt, or null for both
   */
  List<ConflictRow> list(
      @Param("rules") List<String> rules,
      @Param("person") @Nullable Long person,
      @Param("manager") @Nullable String manager,
      @Param("seen") List<String> seen,
      @Param("state") @Nullable String state,
      @Param("group") @Nullable String group,
      @Param("fact") String fact,
      @Param("now") Instant now,
      @Param("before") long before,
      @Param("limit") int limit);

  @Nullable ConflictRow byId(@Param("id") long id, @Param("now") Instant now);

  /** How many were found to break a rule, by a value of one of their facts. */
  List<Cell> found(@Param("fact") String fact);

  /** How many break a rule, by a value of one of their facts. */
  record Cell(String ruleKey, String value, Integer open, Integer exempt) {}

  List<Cell> matrix(
      @Param("rules") List<String> rules, @Param("fact") String fact, @Param("now") Instant now);

  /** Ends what was allowed until before a moment. */
  record OverRow(Long id, Long personId, String ruleKey, Instant untilAt) {}

  List<OverRow> exemptionsOver(@Param("now") Instant now, @Param("limit") int limit);

  void endExemptions(@Param("ids") List<Long> ids);

  @Nullable Instant nextExemptionEnd(@Param("after") Instant after);
}
