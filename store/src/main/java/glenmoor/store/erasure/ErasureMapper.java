package glenmoor.store.erasure;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Takes out of records who somebody was; and rows of {@code erasure}. */
public interface ErasureMapper {
  /** Something that still goes on about somebody: what, and which. */
  record InTheWay(String what, String which) {}

  /**
   * What still goes on about somebody.
   *
   * @param run the run of a playbook that asks, and does not count; 0 to count none
   */
  List<InTheWay> inTheWay(
      @Param("id") long id, @Param("run") long run, @Param("today") LocalDate today);

  /** All names they ever had. */
  List<String> names(@Param("id") long id);

  /** All facts they ever had, as JSON. */
  List<String> facts(@Param("id") long id);

  /** The names of all accounts they ever had. */
  List<String> accounts(@Param("id") long id);

  /** The addresses from which they asked as people of a partner organisation. */
  List<String> partnerAddresses(@Param("worker") String worker);

  List<String> signIns(@Param("id") long id);

  /** Gives a sign-in another name, wherever it is referred to by the database itself. */
  void copySignIn(@Param("name") String name, @Param("as") String as);

  void moveDuties(@Param("name") String name, @Param("as") String as);

  void moveTokens(@Param("name") String name, @Param("as") String as);

  void dropSignIn(@Param("name") String name);

  void dropSavedAsks(@Param("name") String name);

  /** Leaves of a person their worker number, and that they are gone. */
  void erasePerson(@Param("id") long id, @Param("day") LocalDate day);

  /** Empties texts of theirs, or deletes the rows. */
  void erase(
      @Param("text") PersonalText text,
      @Param("id") long id,
      @Param("worker") String worker,
      @Param("now") Instant now);

  /** The items of campaigns about somebody. */
  List<Long> items(@Param("id") long id);

  /** Rows of {@code erasure}. */
  record Erasure(Long personId, Instant erasedAt, String terms) {}

  void insert(Erasure erasure);

  /** Those that are not forgotten, erased before a moment, oldest first. */
  List<Erasure> open(@Param("before") Instant before, @Param("limit") int limit);

  void forgotten(
      @Param("people") Collection<Long> people,
      @Param("before") Instant before,
      @Param("now") Instant now,
      @Param("texts") int texts);

  /** Which of these names, in plain Latin letters, other people bear. */
  List<String> bornByOthers(@Param("letters") Collection<String> letters);

  /** Which of these, in small letters, are names of accounts or sign-ins that there are. */
  List<String> usedByOthers(@Param("names") Collection<String> names);

  /** Frees names of accounts that are no records any more and were kept for as long as is said. */
  int dropFreedNames(@Param("application") String application, @Param("cutoff") Instant cutoff);
}
