package glenmoor.store.playbooks;

import glenmoor.core.playbooks.RunSearch;
import glenmoor.core.playbooks.RunStep;
import glenmoor.core.playbooks.RunView;
import glenmoor.store.Unsignalled;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code playbook_run} and {@code playbook_step}. */
public interface PlaybookRunMapper {
  /**
   * A run.
   *
   * @param day the day it is about
   * @param onceKey what begins it once
   */
  record RunRow(
      Long id,
      String playbook,
      String name,
      String beganOn,
      Long personId,
      @Nullable Long eventId,
      LocalDate day,
      String state,
      Integer step,
      Instant reachedAt,
      @Nullable Instant dueAt,
      Integer tries,
      String reason,
      @Nullable String awaitsApplication,
      @Nullable String awaitsState,
      Instant beganAt,
      String beganBy,
      @Nullable Instant endedAt,
      Integer revision,
      String onceKey) {}

  /**
   * A step of a run.
   *
   * @param said JSON: the step as its playbook said it when the run began
   * @param reference what it began elsewhere: an operation, a ticket; empty for nothing
   */
  record StepRow(
      Long runId,
      Integer number,
      String said,
      String state,
      String what,
      @Nullable Instant settledAt,
      String settledBy,
      String reference) {}

  /** An event that playbooks have not been looked through for. */
  record Unplayed(Long id, Long personId, String kind, LocalDate effectiveOn, Instant detectedAt) {}

  /** Events not looked at yet, locked; those another service has are passed over. */
  List<Unplayed> unplayed(@Param("limit") int limit);

  void played(@Param("events") Collection<Long> events, @Param("now") Instant now);

  /** All events that wait are looked at; what happened before there were playbooks begins none. */
  void nonePlayed(@Param("now") Instant now);

  /** A run that somebody had before, which was not cut short. */
  record Earlier(Long personId, String playbook, LocalDate day, String state, Instant beganAt) {}

  List<Earlier> earlier(@Param("people") Collection<Long> people);

  /**
   * When somebody last joined or came back.
   *
   * @param again whether they ever came back
   */
  record CameBack(Long personId, Instant at, Boolean again) {}

  List<CameBack> cameBack(@Param("people") Collection<Long> people);

  /** Which of these keys began a run already. */
  List<String> begun(@Param("keys") Collection<String> keys);

  /** How far a playbook has looked; null for not at all. */
  @Nullable Instant looked(@Param("playbook") String playbook);

  @Unsignalled
  void look(@Param("playbook") String playbook, @Param("until") Instant until);

  /** A grant of a package that began or ended. */
  record Turned(Long id, Long personId, Instant at) {}

  List<Turned> turned(
      @Param("begins") boolean begins,
      @Param("rolePackage") String rolePackage,
      @Param("from") Instant from,
      @Param("to") Instant to,
      @Param("after") long after,
      @Param("limit") int limit);

  /**
   * Grants that were asked for or given directly and ended between two moments, of people who have
   * no other one now.
   */
  List<Turned> lastEnded(
      @Param("from") Instant from,
      @Param("to") Instant to,
      @Param("after") long after,
      @Param("limit") int limit);

  /** The runs of these people that are not over, locked. */
  List<RunRow> unfinishedOf(@Param("people") Collection<Long> people);

  /** Runs that are due, locked; those another service has are passed over. */
  List<RunRow> due(@Param("now") Instant now, @Param("limit") int limit);

  @Nullable RunRow lock(@Param("id") long id);

  /** Those steps of runs that come next. */
  List<StepRow> stepsOf(@Param("runs") Collection<Long> runs);

  /**
   * Writes how a run stands.
   *
   * @return 0 where somebody else changed it meanwhile
   */
  int update(RunRow run);

  void updateStep(StepRow step);

  /** Runs that wait to see an account as it was seen now are due. */
  int seen(@Param("now") Instant now);

  /** A run is due: what it waited for is there. */
  void wake(@Param("id") long id, @Param("now") Instant now);

  /** When the next run is due after a moment; null for never. */
  @Nullable Instant nextDue();

  int ready(@Param("now") Instant now, @Param("most") int most);

  /** People for whom the day of an event of this kind comes between two days, by themselves. */
  List<Long> coming(
      @Param("kind") String kind,
      @Param("from") LocalDate from,
      @Param("to") LocalDate to,
      @Param("after") long after,
      @Param("limit") int limit);

  List<RunView> list(RunSearch search);

  @Nullable RunView byId(@Param("id") long id);

  List<RunStep> steps(@Param("run") long run);

  /** How many runs of a playbook began since a moment, and were not ended. */
  int begunSince(@Param("playbook") String playbook, @Param("since") Instant since);

  /** The runs of a playbook that a brake holds, locked. */
  List<RunRow> braked(
      @Param("playbook") String playbook,
      @Param("reason") String reason,
      @Param("limit") int limit);

  /** How many runs of a playbook stand in each state. */
  record Count(String playbook, String state, Integer runs) {}

  List<Count> counts();

  /** Playbooks, letters and channels that unfinished runs still name. */
  List<String> namedBySteps(@Param("word") String word);
}
