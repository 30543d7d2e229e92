package glenmoor.store.campaigns;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Fixes the items of rounds, set-based: a stretch of people at a time, all as of one moment. */
public interface LaunchMapper {
  /** One right, package or application of the scope. */
  record ScopeRow(
      long roundId, String judged, String targetKey, String application, int risk, long mask) {}

  /** One of those who are alike in some facts, and how many they are. */
  record Kind(Long id, Integer people) {}

  /** What one right takes part in. */
  record Ruled(String rule, String entitlement) {}

  /**
   * What fixing items has to know.
   *
   * @param round identity
   * @param asOf the moment
   * @param judged entitlement, package or account
   * @param from after whom
   * @param to up to whom; null for all
   * @param scoped whether the people are those of {@code campaign_person}
   * @param person whom alone it is about; null for all
   * @param offer only what was given by this offer; null for all
   * @param heldBefore only what was there by then; null for all
   * @param movedAfter only of people who moved since; null for all
   * @param by whose items go to whom: manager, sponsor, application, target, holder or one
   * @param fallback the reviewer of what goes to nobody else
   * @param before the round before; 0 for none
   * @param watches idle limits: a JSON array of application and before
   * @param rules conflict rules: a JSON array of {@link Ruled}
   * @param peers facts in which peers are alike; none for no comparison
   */
  record Launch(
      long round,
      Instant asOf,
      String judged,
      long from,
      @Nullable Long to,
      boolean scoped,
      @Nullable Long person,
      @Nullable String offer,
      @Nullable Instant heldBefore,
      @Nullable Instant movedAfter,
      String by,
      long fallback,
      long before,
      String watches,
      String rules,
      List<String> peers) {
    public Launch between(long first, @Nullable Long last) {
      return new Launch(
          round,
          asOf,
          judged,
          first,
          last,
          scoped,
          person,
          offer,
          heldBefore,
          movedAfter,
          by,
          fallback,
          before,
          watches,
          rules,
          peers);
    }
  }

  /** The end of the next stretch of so many people; null where fewer are left. */
  @Nullable Long mark(@Param("from") long from, @Param("skip") int skip);

  /** Makes the table, of this connection alone, of what is given in a stretch of people. */
  void makeGiven();

  void fillGiven(Launch launch);

  /** Fixes items of a stretch, once what is given in it is gathered in the same transaction. */
  int rights(Launch launch);

  int packages(Launch launch);

  int accounts(Launch launch);

  /** Accounts that are nobody's, of applications in the scope. */
  int strays(@Param("launch") Launch launch);

  /** Accounts for a purpose, of applications in the scope. */
  int services(@Param("launch") Launch launch);

  /** People by what is alike in some facts, or each by themselves. */
  List<Kind> kinds(
      @Param("asOf") Instant asOf,
      @Param("facts") List<String> facts,
      @Param("person") @Nullable Long person,
      @Param("ofOne") boolean ofOne,
      @Param("after") long after,
      @Param("limit") int limit);

  /** Takes everybody into the scope who is like one of some people in some facts. */
  int scopeLike(
      @Param("round") long round,
      @Param("asOf") Instant asOf,
      @Param("facts") List<String> facts,
      @Param("person") @Nullable Long person,
      @Param("ids") Collection<Long> ids);

  void addPeople(@Param("round") long round, @Param("ids") Collection<Long> ids);

  /** Counts who has what among people with the same job. */
  void peersOfRights(Launch launch);

  void peersOfPackages(Launch launch);

  /** Counts people with the same job. */
  void peers(Launch launch);

  /** One reviewer for each holder in a stretch of people, and what is theirs goes to them. */
  void holders(Launch launch);

  void assignHolders(Launch launch);

  /** What of the scope's people their managers are, each once. */
  List<String> managers(Launch launch);

  List<String> sponsors(@Param("launch") Launch launch, @Param("fact") String fact);

  /** Deletes some of a round's items; 0 once there are none. */
  int drop(@Param("round") long round, @Param("limit") int limit);

  int count(@Param("round") long round);

  int countPeople(@Param("round") long round);

  void addScope(@Param("rows") Collection<ScopeRow> rows);
}
