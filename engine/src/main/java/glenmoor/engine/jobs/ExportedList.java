package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** A list that can be exported whole, brought by the room that it is of. */
public interface ExportedList {
  /** Its name in the API, such as {@code people}. */
  String name();

  /** What somebody must be allowed to be given any of it; empty where each sees their own part. */
  Optional<Permission> needs();

  /** The names of its filters. */
  List<String> filters();

  /**
   * Gives the heading and then every row that the actor sees, a page at a time.
   *
   * @param filters by name; those that are not given are not asked for
   * @throws Refused if the actor may not see the list, or a filter cannot be used
   */
  void each(Map<String, String> filters, Actor actor, Consumer<List<String>> line);
}
