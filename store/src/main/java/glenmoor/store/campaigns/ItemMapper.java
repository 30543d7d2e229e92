package glenmoor.store.campaigns;

import glenmoor.core.campaigns.ItemRemark;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.RoundsCompared;
import glenmoor.core.people.ValueCount;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code campaign_item} and {@code campaign_remark}. */
public interface ItemMapper {
  /**
   * An item with whose it is.
   *
   * @param kind entitlement, package, account, stray or service
   * @param bases the bases of all that gave it, as core's {@code HoldingScope} says them
   * @param givenBy one of them: its basis and its key
   * @param suggestion 0 keep, 1 look, 2 revoke
   * @param signedLine the digest of what was decided, in hexadecimal, where a text of it was erased
   */
  record ItemRow(
      Long id,
      Long roundId,
      Long reviewerId,
      @Nullable Long personId,
      @Nullable String worker,
      @Nullable String person,
      @Nullable String facts,
      @Nullable Long accountId,
      String kind,
      String targetKey,
      String application,
      String account,
      Integer bases,
      String givenBy,
      @Nullable Instant since,
      @Nullable Instant lastUsed,
      Boolean idle,
      Boolean conflict,
      Integer risk,
      @Nullable Integer peers,
      @Nullable Integer peersHolding,
      String beforeWas,
      String beforeBy,
      Integer suggestion,
      String state,
      String judgement,
      String decidedBy,
      @Nullable Instant decidedAt,
      String reason,
      Boolean opened,
      Integer level,
      String firstWas,
      String firstBy,
      @Nullable Instant actsAt,
      String answer,
      @Nullable Instant settledAt,
      @Nullable Instant overAt,
      String handedTo,
      String note,
      @Nullable String signedLine,
      Integer revision) {}

  /** How many items of a reviewer are in which state, and how decided. */
  record StateCount(
      Long reviewerId, String state, String judgement, Integer items, Integer careful) {}

  /** How fast somebody kept: the most in any minute. */
  record Pace(Long reviewerId, Integer kept, Instant minute) {}

  /** How many items were decided on a day. */
  record DayCount(Long reviewerId, LocalDate day, Integer items) {}

  List<ItemRow> search(ItemSearch search);

  List<ItemRow> byIds(@Param("ids") Collection<Long> ids);

  /** The same, for writing. */
  List<ItemRow> lock(@Param("ids") Collection<Long> ids);

  /** Those of a search, by identity, at most so many. */
  List<Long> ids(ItemSearch search);

  List<StateCount> counts(@Param("reviewers") Collection<Long> reviewers);

  List<StateCount> countsOfRound(@Param("round") long round);

  List<Pace> pace(@Param("round") long round, @Param("least") int least);

  List<DayCount> days(@Param("round") long round, @Param("zone") String zone);

  /**
   * Keeps digests of what was signed off, where none is kept.
   *
   * @param lines a JSON array of {@code id} and {@code digest}
   */
  void keepDigests(@Param("lines") String lines);

  void decide(
      @Param("ids") Collection<Long> ids,
      @Param("judgement") String judgement,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  void undo(@Param("ids") Collection<Long> ids);

  void open(@Param("id") long id);

  void passOn(@Param("ids") Collection<Long> ids, @Param("reviewer") long reviewer);

  /** Items about whoever judges for a reviewer go to another one. */
  int passSelf(
      @Param("reviewer") long reviewer, @Param("person") long person, @Param("to") long to);

  /** All that is not settled goes to another reviewer. */
  int passAll(@Param("reviewer") long reviewer, @Param("to") long to);

  void remark(
      @Param("ids") Collection<Long> ids,
      @Param("by") String by,
      @Param("what") String what,
      @Param("text") String text,
      @Param("now") Instant now);

  List<ItemRemark> remarks(@Param("item") long item);

  /** Decides what a reviewer left undecided. */
  int decideRest(
      @Param("reviewer") long reviewer,
      @Param("judgement") String judgement,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /** What is kept is kept; what is revoked is announced. */
  void settle(
      @Param("reviewer") long reviewer, @Param("actsAt") Instant actsAt, @Param("now") Instant now);

  /** What was decided goes to whoever looks a second time. */
  void toSecond(@Param("reviewer") long reviewer, @Param("to") long to);

  int undecided(@Param("reviewer") long reviewer);

  int undecidedOf(@Param("round") long round);

  /** Of how many people something is undecided. */
  /** From how many people a review would take something that is not signed off yet. */
  int revokedPeople(@Param("reviewer") long reviewer);

  /** From how many people a round would take what was decided and not signed off. */
  int revokedUnsigned(@Param("round") long round);

  int undecidedPeople(@Param("round") long round);

  /** What is to be taken by now, in order. */
  List<ItemRow> toTake(@Param("now") Instant now, @Param("limit") int limit);

  void taken(@Param("ids") Collection<Long> ids, @Param("now") Instant now);

  @Nullable Instant nextTake();

  /** Accounts that are nobody's, were revoked, and are still there. */
  List<ItemRow> nobodys(@Param("limit") int limit);

  void note(@Param("id") long id, @Param("note") String note);

  /** Confirms what is not there any more. */
  int gone(@Param("now") Instant now);

  int gonePackages(@Param("now") Instant now);

  int goneAccounts(@Param("now") Instant now);

  int goneStrays(@Param("now") Instant now);

  int goneServices(@Param("now") Instant now);

  /** What a later decision gave anew. */
  int again(@Param("now") Instant now);

  /** Undecided items of rounds that go on whose holding is not there any more. */
  int endedRights(@Param("now") Instant now, @Param("since") Instant since);

  int endedPackages(@Param("now") Instant now, @Param("since") Instant since);

  int endedAccounts(@Param("now") Instant now, @Param("since") Instant since);

  /** The same of accounts that are nobody's, of rounds that judge some. */
  int endedNobodys(@Param("round") long round, @Param("now") Instant now);

  /** Items of which their holders are to be told, by holder. */
  List<ItemRow> untold(@Param("round") long round, @Param("limit") int limit);

  void told(@Param("ids") Collection<Long> ids);

  /** Applications in which a reviewer left something undecided, with how much. */
  List<ValueCount> undecidedBy(@Param("reviewer") long reviewer);

  /** What is undecided of an application goes to another reviewer. */
  int passApplication(
      @Param("reviewer") long reviewer,
      @Param("application") String application,
      @Param("to") long to);

  void hand(
      @Param("id") long id,
      @Param("to") String to,
      @Param("note") String note,
      @Param("now") Instant now);

  void answer(@Param("id") long id, @Param("answer") String answer);

  /** What was announced and answered stays, or goes now. */
  void answered(
      @Param("id") long id,
      @Param("state") String state,
      @Param("by") String by,
      @Param("note") String note,
      @Param("now") Instant now);

  /** How many are not over. */
  int openOf(@Param("round") long round);

  /** Whether anything waits to be taken or confirmed. */
  boolean following();

  /** What goes from somebody and was announced to them. */
  List<ItemRow> announcedTo(@Param("person") long person);

  /** The faults of operations that items of a round wait for. */
  List<ItemRow> faulty(@Param("round") long round, @Param("limit") int limit);

  /** Two rounds of a campaign side by side. */
  RoundsCompared compare(@Param("round") long round, @Param("before") long before);
}
