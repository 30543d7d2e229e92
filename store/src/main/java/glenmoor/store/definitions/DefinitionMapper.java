package glenmoor.store.definitions;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code definition}, and the revision that rises with each load. */
public interface DefinitionMapper {
  /** One definition; {@code body} is the JSON of its tree. */
  record DefinitionRow(String kind, String definitionKey, String body) {}

  List<DefinitionRow> all();

  /** What was in force at a moment. */
  List<DefinitionRow> allAsOf(@Param("at") Instant at);

  /** Those in which a text stands somewhere. */
  List<DefinitionRow> holding(@Param("text") String text);

  long revision();

  long lockRevision();

  void raiseRevision();

  void put(
      @Param("rows") List<DefinitionRow> rows,
      @Param("now") Instant now,
      @Param("by") String by,
      @Param("why") String why);

  /** A definition as it stood from a load on. */
  record VersionRow(String body, Instant loadedAt, String loadedBy, String why) {}

  /** All that one definition has been, the last first. */
  List<VersionRow> versions(@Param("kind") String kind, @Param("key") String key);

  void drop(@Param("kind") String kind, @Param("key") String key);
}
