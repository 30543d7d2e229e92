package glenmoor.store.names;

import glenmoor.core.names.NameIndex;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.session.ResultHandler;
import org.jspecify.annotations.Nullable;

/** Rows of {@code name_change}, and the names they are about. */
public interface NameChangeMapper {
  /** People beyond this number are not named one by one: whoever keeps names reads all of them. */
  int MOST = 2_000;

  /**
   * Some people who got a name, or another one.
   *
   * @param at by the database's clock, shortly before it was committed
   * @param many whether they are too many to be named
   */
  record Change(Long id, Instant at, Boolean many) {}

  /** Records that people got a name or another one; at the end of what changed it. */
  default void record(long id, Collection<Long> people) {
    insert(
        id,
        people.size() > MOST
            ? null
            : people.stream().map(String::valueOf).collect(Collectors.joining(",", "[", "]")));
  }

  void insert(@Param("id") long id, @Param("people") @Nullable String people);

  /**
   * What was recorded after a moment or in the quarter of an hour before it, as commits may be
   * late.
   */
  List<Change> since(@Param("at") Instant at);

  /** The names that people of these changes have now. */
  List<NameIndex.Entry> names(@Param("changes") Collection<Long> changes);

  /** Everybody's name, in the order of lists. */
  void all(ResultHandler<NameIndex.Entry> each);

  /** What the database's clock says. */
  Instant now();

  /** Lets go of what is older than two hours: who has not looked for an hour reads all names. */
  void forget();
}
