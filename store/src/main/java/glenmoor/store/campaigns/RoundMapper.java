package glenmoor.store.campaigns;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code campaign_round} and {@code campaign_reviewer}. */
public interface RoundMapper {
  /**
   * One playing of a campaign.
   *
   * @param occasion what made it begin
   * @param personId whom alone it is about; null for everybody in its scope
   * @param asOf the moment at which its items are fixed
   * @param beforeId the round of the same campaign before; null for none
   */
  record RoundRow(
      Long id,
      String campaignKey,
      String name,
      String occasion,
      @Nullable Long personId,
      String state,
      Instant asOf,
      String launchedBy,
      @Nullable Long work,
      Instant dueAt,
      String closing,
      Integer answerDays,
      Boolean selfReview,
      String second,
      Integer nudged,
      @Nullable Instant escalatedAt,
      Integer extended,
      Boolean withOwners,
      Integer items,
      Integer people,
      @Nullable Long beforeId,
      @Nullable Instant endedAt,
      String endReason) {}

  /**
   * Whoever judges in a round.
   *
   * @param kind person, team, application-owner, steward or campaign-lead
   * @param target the person's identity, the team's key, or the key of what the duty is for
   * @param personId who is meant; null for several
   * @param actingId who judges; null for several, or for nobody
   */
  record ReviewerRow(
      Long id,
      Long roundId,
      Integer level,
      String kind,
      String target,
      @Nullable Long personId,
      @Nullable Long actingId,
      @Nullable Instant signedOffAt,
      String signedOffBy) {}

  /** One to be written, whose identity the database gives. */
  record NewReviewer(
      long roundId,
      int level,
      String kind,
      String target,
      @Nullable Long personId,
      @Nullable Long actingId) {}

  /** Whose items go to whom. */
  record Assigned(
      long roundId, String byKey, long reviewerId, @Nullable Long personId, long upId) {}

  /** Begins one; 0 if it began already, or one of the same campaign goes on. */
  int begin(@Param("row") RoundRow row, @Param("openKey") @Nullable String openKey);

  void work(@Param("id") long id, @Param("work") long work);

  @Nullable RoundRow byId(@Param("id") long id);

  List<RoundRow> byIds(@Param("ids") Collection<Long> ids);

  @Nullable RoundRow lock(@Param("id") long id);

  @Nullable RoundRow ofWork(@Param("work") long work);

  /** The round of a campaign that goes on; null for none. */
  @Nullable RoundRow open(@Param("openKey") String openKey);

  /** The last of a campaign that was judged, of all people; null for none. */
  @Nullable RoundRow last(@Param("campaign") String campaign);

  /** The newest first. */
  List<RoundRow> list(
      @Param("campaign") @Nullable String campaign,
      @Param("state") @Nullable String state,
      @Param("before") long before,
      @Param("limit") int limit);

  List<RoundRow> inState(@Param("states") Collection<String> states);

  void launched(
      @Param("id") long id,
      @Param("items") int items,
      @Param("people") int people,
      @Param("dueAt") Instant dueAt);

  /** Moves it from a state to another one; 0 if it was in another. */
  int move(@Param("id") long id, @Param("from") String from, @Param("to") String to);

  void end(
      @Param("id") long id,
      @Param("state") String state,
      @Param("reason") String reason,
      @Param("now") Instant now);

  void nudged(@Param("id") long id, @Param("nudged") int nudged);

  void escalated(@Param("id") long id, @Param("now") Instant now);

  void extend(@Param("id") long id, @Param("dueAt") Instant dueAt);

  void toOwners(@Param("id") long id, @Param("dueAt") Instant dueAt);

  /** Somebody moved. */
  record Moved(Long id, Long personId, Instant detectedAt) {}

  /** Up to which move a campaign has looked; null where it never did. */
  @Nullable Long movesLookedAt(@Param("campaign") String campaign);

  void looksFrom(@Param("campaign") String campaign);

  /** Moves that it has not looked at, the oldest first. */
  List<Moved> moves(@Param("campaign") String campaign, @Param("limit") int limit);

  void lookedAt(@Param("campaign") String campaign, @Param("event") long event);

  @Nullable Instant movedAt(@Param("event") long event);

  /** Rows of rounds that go on in which somebody is meant or acts. */
  List<ReviewerRow> ofPerson(@Param("person") long person);

  /** Rows of rounds that go on which several people may judge. */
  List<ReviewerRow> ofGroups();

  /** The people who are meant in rounds that go on, and who acts for them. */
  List<ReviewerRow> actingNow(@Param("after") long after, @Param("limit") int limit);

  /** Changes whenever somebody may have come, gone, or be away. */
  String standingMarker();

  /** Whether anything is left to be decided or signed off. */
  boolean anyOpen(@Param("round") long round);

  void addReviewers(@Param("rows") Collection<NewReviewer> rows);

  List<ReviewerRow> reviewers(@Param("round") long round);

  /** Those of a level, by kind and target. */
  @Nullable ReviewerRow reviewer(
      @Param("round") long round,
      @Param("level") int level,
      @Param("kind") String kind,
      @Param("target") String target);

  @Nullable ReviewerRow reviewerById(@Param("id") long id);

  List<ReviewerRow> reviewersByIds(@Param("ids") Collection<Long> ids);

  @Nullable ReviewerRow lockReviewer(@Param("id") long id);

  void act(@Param("id") long id, @Param("acting") @Nullable Long acting);

  /** Those who have nothing to judge. */
  void dropIdleReviewers(@Param("round") long round);

  void signOff(
      @Param("id") long id,
      @Param("by") String by,
      @Param("digest") byte[] digest,
      @Param("now") Instant now);

  /** The digest of what a reviewer signed off, in hexadecimal. */
  record Digest(Long reviewerId, String hex) {}

  /** Those of a round's reviewers who have signed off. */
  List<Digest> digests(@Param("round") long round);

  /** Opens again what was signed off, because something came back to it. */
  void reopen(@Param("id") long id);

  void assign(@Param("rows") Collection<Assigned> rows);

  void forgetScope(@Param("round") long round);

  /** Deletes some of what is needed while a round is launched only; 0 once there is none. */
  int forgetPeople(@Param("round") long round, @Param("limit") int limit);

  int forgetAssigned(@Param("round") long round, @Param("limit") int limit);

  int forgetPeers(@Param("round") long round, @Param("limit") int limit);

  int dropReviewers(@Param("round") long round, @Param("limit") int limit);

  /** Deletes one that was a rehearsal. */
  void drop(@Param("id") long id);
}
