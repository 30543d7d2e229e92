package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.Source;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Writes one record, for use cases that asked before whether they may. */
@Named
public final class RecordWriter {
  private final OneRow rows;

  RecordWriter(OneRow rows) {
    this.rows = rows;
  }

  /**
   * Writes it as a feed of one row.
   *
   * @param facts by key; one that is not said is empty, one that the form does not ask for is left
   *     out
   * @throws glenmoor.engine.Refused if it cannot be used, with what was found and what is expected
   */
  public FeedLoading.Loaded load(
      Source source, String worker, Map<String, String> facts, Actor actor) {
    var heading = new ArrayList<>(List.of(source.workerColumn()));
    var cells = new ArrayList<>(List.of(worker));
    for (var column : source.columns()) {
      heading.add(column.column());
      cells.add(Objects.requireNonNullElse(facts.get(column.fact()), "").strip());
    }
    // Whoever may write a record may not bring files: the service brings it for them.
    var by = actor.may(Permission.LOAD_FEEDS) ? actor : Actor.SERVICE;
    return rows.load(source, "form", OneRow.text(source, List.of(heading, cells)), by);
  }
}
