package glenmoor.store.people;

import glenmoor.core.people.ValueCount;
import glenmoor.core.people.WorkListEntry;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code person}. */
public interface PersonMapper {
  /** A person whose planning is due, and what made it so. */
  record Due(Long id, String dueCause) {}

  @Nullable PersonRow byWorker(@Param("worker") String worker);

  /** A person as they were recorded at a moment; null if they were not yet known. */
  @Nullable PersonRow asOf(@Param("id") long id, @Param("at") Instant at);

  /** People as they were at a moment. */
  List<PersonRow> allAsOf(@Param("ids") Collection<Long> ids, @Param("at") Instant at);

  /** What a standing follows from, as it was recorded from a moment on. */
  record Recorded(
      String facts,
      @Nullable LocalDate absentSince,
      @Nullable LocalDate cutOffOn,
      @Nullable LocalDate erasedOn,
      Instant recordedAt) {}

  /** All that was ever recorded of a person's standing, oldest first. */
  List<Recorded> recorded(@Param("id") long id);

  /** One of several people who are alike in some facts, and how many they are. */
  record Alike(Long id, Integer people) {}

  /**
   * People who are here or expected, together where they are alike in these facts.
   *
   * @param ofOne whether everybody stands alone
   */
  List<Alike> alike(
      @Param("facts") Collection<String> facts,
      @Param("ofOne") boolean ofOne,
      @Param("today") LocalDate today,
      @Param("limit") int limit);

  List<PersonRow> byIds(@Param("ids") Collection<Long> ids);

  /** People by the keys of their worker numbers. */
  List<PersonRow> byWorkers(@Param("workers") Collection<String> workers);

  default List<PersonRow> search(PersonSearch search) {
    return search.isOfNamesAlone() ? searchNames(search) : searchAll(search);
  }

  /** The same of a search that {@linkplain PersonSearch#isOfNamesAlone is of names alone}. */
  List<PersonRow> searchNames(PersonSearch search);

  List<PersonRow> searchAll(PersonSearch search);

  int count(PersonSearch search);

  /**
   * Whether a text that is searched for is the beginning of a worker number: it has more than
   * letters, and some worker number begins like it.
   */
  default boolean isWorker(@Nullable String text) {
    return text != null
        && !text.chars().allMatch(each -> Character.isLetter(each) || Character.isWhitespace(each))
        && anyWorker(text);
  }

  /** Whether a worker number begins like this, whatever the case of its letters. */
  boolean anyWorker(@Param("beginning") String beginning);

  /** How many people each of these sources has brought; none is no row. */
  List<ValueCount> countOfSources(@Param("sources") Collection<String> sources);

  /** A page of all ids in order, for walking over everybody. */
  List<Long> idsAfter(@Param("after") long after, @Param("limit") int limit);

  List<ValueCount> values(@Param("fact") String fact, @Param("today") LocalDate today);

  /** Who starts, ends, or goes on or comes back from leave between two dates, inclusive. */
  List<PersonRow> upcoming(
      @Param("from") LocalDate from,
      @Param("to") LocalDate to,
      @Param("manager") @Nullable String manager,
      @Param("limit") int limit);

  /** How many people report to somebody. */
  int countReports(@Param("manager") String manager);

  /** People whose planning is due, locked; those another replica has are skipped. */
  List<Due> takeDue(@Param("now") Instant now, @Param("limit") int limit);

  /** The same people, locked for this transaction. */
  List<PersonRow> lock(@Param("ids") Collection<Long> ids);

  @Nullable Instant nextDue();

  /** How many are due, counted no further than this. */
  int due(@Param("now") Instant now, @Param("most") int most);

  void setDue(@Param("due") Map<Long, Instant> due);

  void clearDue(@Param("ids") Collection<Long> ids);

  void endAbsent(
      @Param("ids") Collection<Long> ids,
      @Param("day") LocalDate day,
      @Param("now") Instant now,
      @Param("cause") String cause);

  /** A full feed did not name these people, who have not left by that yet; a day counts once. */
  void missed(
      @Param("ids") Collection<Long> ids, @Param("feed") long feed, @Param("day") LocalDate day);

  /** Whoever of a source was missing before and is not missing from this full feed is back. */
  void notMissed(@Param("source") String source, @Param("feed") long feed);

  void applyStaged(@Param("feed") long feed, @Param("now") Instant now);

  void clearStaged(@Param("feed") long feed);

  /** Something about a person that could not be computed, as it stands on the work list. */
  record TroubleRow(Long personId, String place, String sentence, Instant since) {}

  /** People are due now, unless something made them due before. */
  void dueFor(
      @Param("ids") Collection<Long> ids, @Param("now") Instant now, @Param("cause") String cause);

  List<TroubleRow> troublesOf(@Param("ids") Collection<Long> ids);

  void addTroubles(@Param("troubles") Collection<TroubleRow> troubles);

  void clearTroubles(@Param("ids") Collection<Long> ids);

  List<WorkListEntry> troubles(@Param("limit") int limit);

  int countTroubles();

  /** Everybody there is, or was. */
  int countAll();

  /** Since when somebody is due and was not planned, or null. */
  @Nullable Instant lateSince(@Param("now") Instant now);
}
