package glenmoor.store.requests;

import glenmoor.core.requests.ListedLine;
import glenmoor.core.requests.OfferNumbers;
import glenmoor.core.requests.StageNumbers;
import glenmoor.core.requests.TeamShare;
import glenmoor.store.people.PersonRow;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code request}, {@code request_line} and what hangs on them. */
public interface RequestMapper {
  /**
   * What somebody asked for in one go.
   *
   * @param askerId the person they are; null for none
   * @param onceKey what makes the same ask, sent twice, one; null for nothing
   */
  record RequestRow(
      Long id, String askedBy, @Nullable Long askerId, Instant askedAt, @Nullable String onceKey) {}

  /** One line. */
  record LineRow(
      Long id,
      Long requestId,
      String kind,
      Long personId,
      String offer,
      String packageKey,
      String route,
      String reason,
      String answers,
      String selected,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      String term,
      String conflicts,
      String exemptControl,
      @Nullable Instant exemptUntil,
      String exemptBy,
      @Nullable Long aboutGrant,
      String state,
      @Nullable Instant endedAt,
      String endReason,
      @Nullable Instant dueAt,
      String managerKey,
      Long catalogue,
      Instant lookedAt,
      Integer revision,
      @Nullable String openKey) {}

  /** How the lines stand that were asked for somebody since a request, and in it. */
  List<String> statesSince(@Param("person") long person, @Param("request") long request);

  /** What was answered, by line; {@code answers} is JSON. */
  record AnswersRow(Long id, String answers) {}

  List<AnswersRow> answers(@Param("lines") Collection<Long> lines);

  /** A move of somebody after which nothing was asked for anew yet. */
  record MoveRow(Long id, Long personId, Instant detectedAt) {}

  /** Such moves, in order, after one. */
  List<MoveRow> moves(@Param("after") long after, @Param("limit") int limit);

  /**
   * Notes that what follows from a move was asked for.
   *
   * @return 0 where that was noted already
   */
  int takeMove(@Param("id") long id, @Param("now") Instant now);

  /** Notes that nothing is asked for after any move until now. */
  void noMoves(@Param("now") Instant now);

  /**
   * How a line stands: what a move may change of it.
   *
   * @param openKey null once it is over
   */
  record LineStanding(
      Long id,
      String conflicts,
      String exemptControl,
      @Nullable Instant exemptUntil,
      String exemptBy,
      String state,
      @Nullable Instant endedAt,
      String endReason,
      @Nullable Instant dueAt,
      String managerKey,
      Long catalogue,
      Instant lookedAt,
      @Nullable String openKey) {}

  /** Something that was said or done. */
  record NoteRow(
      Long id,
      Long requestId,
      @Nullable Long lineId,
      @Nullable Integer stage,
      Instant at,
      String byLogin,
      @Nullable Long forPerson,
      String what,
      String text) {}

  /**
   * Which lines are looked for.
   *
   * @param concerning those that this person asked for, or gets; null for whosever
   * @param askedAt those that wait for this person; null for whomever
   * @param person for whom; null for whomever
   * @param offer null for whichever
   * @param state null for whichever
   * @param route null for whichever
   * @param stage null for whichever; those that wait at it, or ended there
   * @param within each narrows it
   */
  record Wanted(
      @Nullable Long concerning,
      @Nullable Long askedAt,
      @Nullable Long person,
      @Nullable String offer,
      @Nullable String state,
      @Nullable String route,
      @Nullable Integer stage,
      List<Within> within,
      long before,
      int limit) {}

  /**
   * Lines of some packages, or that select one of some entitlements.
   *
   * @param entitlements keys, as a JSON array
   */
  record Within(List<String> packages, String entitlements) {}

  /** How lines fare at each stage, by what they ask for, of those open or ended since. */
  List<StageNumbers> stageNumbers(@Param("since") Instant since);

  /**
   * How many lines ask for something.
   *
   * @param people for how many it is asked
   */
  record GivenNumbers(
      String packageKey, String selected, Integer open, Integer approved, Integer people) {}

  /** How many lines ask for what, of those open or ended since. */
  List<GivenNumbers> givenNumbers(@Param("since") Instant since);

  void insertRequest(RequestRow request);

  @Nullable Long byOnceKey(@Param("key") String key);

  void insertLines(@Param("lines") Collection<LineRow> lines);

  @Nullable RequestRow request(@Param("id") long id);

  List<LineRow> linesOf(@Param("request") long request);

  @Nullable LineRow line(@Param("id") long id);

  /** Whether something is asked for already. */
  boolean isOpen(@Param("key") String key);

  /** Locks a line against others until the transaction ends. */
  @Nullable LineRow lock(@Param("id") long id);

  /** Keeps how a line stands. */
  void update(LineStanding line);

  void note(NoteRow note);

  List<NoteRow> notes(@Param("request") long request);

  List<ListedLine> list(Wanted wanted);

  /** How many lines wait for somebody, up to a number. */
  int countAsked(@Param("person") long person, @Param("most") int most);

  /** How the asks under each offer fare, of those that are open or ended since a moment. */
  List<OfferNumbers> numbers(@Param("since") Instant since);

  /** Those who report to a manager and are here, without one of them, by name. */
  List<PersonRow> colleagues(
      @Param("manager") String manager,
      @Param("person") long person,
      @Param("today") LocalDate today,
      @Param("limit") int limit);

  /** Of those who report to a manager, without one of them: how many hold a package. */
  TeamShare team(
      @Param("manager") String manager,
      @Param("person") long person,
      @Param("target") String target,
      @Param("now") Instant now,
      @Param("today") LocalDate today);

  /** Whether somebody is, or once was, asked about a request. */
  boolean isAsked(@Param("request") long request, @Param("person") long person);

  /**
   * Lines whose clock has something to do, the longest due first.
   *
   * @param without lines that are left out, because they have just failed
   */
  List<Long> due(
      @Param("now") Instant now,
      @Param("without") Collection<Long> without,
      @Param("limit") int limit);

  @Nullable Instant nextDue();

  /**
   * Open lines about which the world has changed since it was last asked who decides: somebody has
   * left or is away or back, the manager is another one, duties or definitions are others.
   */
  List<Long> stale(
      @Param("today") LocalDate today,
      @Param("catalogue") long catalogue,
      @Param("without") Collection<Long> without,
      @Param("limit") int limit);
}
