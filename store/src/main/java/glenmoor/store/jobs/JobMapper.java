package glenmoor.store.jobs;

import glenmoor.core.jobs.Job;
import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code job} and {@code job_part}: long work, what it is given, and how far it is. */
public interface JobMapper {
  /**
   * Work as it is begun.
   *
   * @param input JSON: what it is to do
   * @param limits the permissions that whoever asked for it had in hand, in words; empty for all
   */
  record NewJob(
      long id,
      String kind,
      String what,
      String input,
      String owner,
      String limits,
      Instant startedAt) {}

  /**
   * Work as it is taken up.
   *
   * @param attempts how often it was taken up, this time included
   * @param kept whether what it came to is kept already, so that it must not be done again
   */
  record Taken(
      long id,
      String kind,
      String what,
      String input,
      String owner,
      String limits,
      int attempts,
      boolean kept,
      boolean cancelWanted) {}

  /** How work ended. */
  record End(
      long id, String state, String sentence, String errors, Instant endedAt, boolean withResult) {}

  /** A part of what work is given. */
  record Part(byte[] bytes) {}

  void insert(NewJob row);

  /** Takes work up; 0 if it has ended. */
  int take(@Param("id") long id);

  @Nullable Taken taken(@Param("id") long id);

  /** Gives work back that cannot go on yet: that it was taken up does not count. */
  void giveBack(@Param("id") long id, @Param("sentence") String sentence);

  /** Shows how far work is; 0 if it was ended, or somebody wants it to stop. */
  int update(
      @Param("id") long id,
      @Param("done") int done,
      @Param("total") int total,
      @Param("sentence") String sentence);

  /** Keeps what work came to, inside the transaction that did it. */
  void keep(@Param("id") long id, @Param("result") String result);

  /** Ends work; 0 if it had ended already. */
  int end(End end);

  /** Notes that somebody wants it to stop; 0 if it has ended, or is done but for the rest. */
  int wantCancelled(@Param("id") long id);

  @Nullable Job byId(@Param("id") long id);

  /**
   * The newest first.
   *
   * @param owner whose, or null for everybody's
   * @param before only what began before this, null for all
   */
  List<Job> list(
      @Param("owner") @Nullable String owner,
      @Param("open") boolean open,
      @Param("before") @Nullable Long before,
      @Param("limit") int limit);

  void addPart(@Param("id") long id, @Param("number") int number, @Param("bytes") byte[] bytes);

  /** A part of what work is given; null after the last. */
  @Nullable Part part(@Param("id") long id, @Param("number") int number);

  /** Gives the parts of one piece of work to another as well; gives how many. */
  int copyParts(@Param("from") long from, @Param("to") long to);

  /** JSON: what work is to do. */
  String input(@Param("id") long id);

  void dropParts(@Param("id") long id);

  /** Drops parts that were brought so long ago, and that no open work needs. */
  int dropLeftParts(@Param("seconds") long seconds);
}
