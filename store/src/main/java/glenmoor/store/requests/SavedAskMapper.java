package glenmoor.store.requests;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code saved_ask}. */
public interface SavedAskMapper {
  /**
   * What somebody asks for again and again.
   *
   * @param asks as JSON
   */
  record SavedRow(Long id, String login, String name, String asks, Instant savedAt) {}

  List<SavedRow> of(@Param("login") String login);

  int count(@Param("login") String login);

  /** Puts one in the place of that of the same name. */
  void put(SavedRow row);

  /**
   * @return 0 where they have none of that identity
   */
  int drop(@Param("login") String login, @Param("id") long id);
}
