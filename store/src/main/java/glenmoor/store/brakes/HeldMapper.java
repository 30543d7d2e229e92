package glenmoor.store.brakes;

import glenmoor.core.brakes.KeptChange;
import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code held_change} and {@code held_part}. */
public interface HeldMapper {
  /** A part of what a change brings. */
  record Part(byte[] bytes) {}

  void insert(KeptChange row);

  void addPart(
      @Param("change") long change, @Param("number") int number, @Param("bytes") byte[] bytes);

  /** A part of what a change brings; null after the last. */
  @Nullable Part part(@Param("change") long change, @Param("number") int number);

  void dropParts(@Param("change") long change);

  @Nullable KeptChange byId(@Param("id") long id);

  /** The same, locked for this transaction. */
  @Nullable KeptChange lock(@Param("id") long id);

  int countHeld();

  /** The change of a kind, about the same thing, that waits already; null if none does. */
  @Nullable Long waiting(@Param("kind") String kind, @Param("what") String what);

  /** A change that waits, and what it is about. */
  record WaitingChange(String what, Long id) {}

  /** All of a kind that wait. */
  List<WaitingChange> waitingOf(@Param("kind") String kind);

  List<KeptChange> list(
      @Param("state") @Nullable String state,
      @Param("before") long before,
      @Param("limit") int limit);

  /** Settles a change that is held; 0 if it is not held any more. */
  int decide(
      @Param("id") long id,
      @Param("state") String state,
      @Param("by") String by,
      @Param("at") Instant at,
      @Param("note") String note);

  /** Notes the work that carries a released change out. */
  void carriedOutIn(@Param("id") long id, @Param("work") long work);

  /** Holds a released change once more; 0 if it was carried out, or is held already. */
  int holdAgain(@Param("id") long id);
}
