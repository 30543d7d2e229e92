package glenmoor.store.people;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code due_mark}: whose planning is still to be marked as due, and how far that is. */
public interface DueMarkMapper {
  /**
   * Whom to mark.
   *
   * @param applications JSON: keys; those who have an account there
   * @param targets JSON: keys of packages and entitlements; those who have a grant of them that is
   *     not over
   * @param workers JSON: keys of worker numbers; those people
   * @param afterId the last person that was looked at
   */
  record DueMark(
      long id,
      String cause,
      String applications,
      String targets,
      String workers,
      boolean everybody,
      long afterId) {
    /** The same, from a person on. */
    public DueMark after(long id) {
      return new DueMark(this.id, cause, applications, targets, workers, everybody, id);
    }
  }

  /** The people in a stretch, and how many there are. */
  record Stretch(@Nullable Long last, int people) {}

  void insert(DueMark mark);

  /** The earliest mark that no other replica works on, locked. */
  @Nullable DueMark take();

  /** The earliest mark. */
  @Nullable DueMark first();

  /** The next people after one, up to a limit. */
  Stretch stretch(@Param("after") long after, @Param("limit") int limit);

  /** Makes the concerned people of a stretch due; gives how many. */
  int markDue(@Param("mark") DueMark mark, @Param("last") long last, @Param("now") Instant now);

  void reached(@Param("id") long id, @Param("last") long last);

  void drop(@Param("id") long id);

  /** Which of these people it concerns, in order. */
  List<Long> concerned(
      @Param("mark") DueMark mark, @Param("last") long last, @Param("now") Instant now);
}
