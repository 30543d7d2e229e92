package glenmoor.engine.requests;

import glenmoor.core.requests.LineState;
import glenmoor.core.requests.RouteRun;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.LineStanding;
import glenmoor.store.requests.StageMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Lines as core moves them, read from their rows and written to them. */
@Named
final class LineRuns {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<LinkedHashMap<String, String>> ANSWERS =
      new TypeReference<>() {};
  private static final TypeReference<List<String>> KEYS = new TypeReference<>() {};

  private final RequestMapper requests;
  private final StageRows rows;

  LineRuns(RequestMapper requests, StageMapper stages, Catalogues catalogues) {
    this.requests = requests;
    rows = new StageRows(StageMapper.Of.REQUEST, stages, catalogues);
  }

  static Map<String, String> answers(LineRow line) {
    return answersOf(line.answers());
  }

  static Map<String, String> answersOf(String json) {
    return JSON.readValue(json, ANSWERS);
  }

  static List<String> selected(LineRow line) {
    return keys(line.selected());
  }

  static List<String> keys(String json) {
    return JSON.readValue(json, KEYS);
  }

  static String write(Object value) {
    return JSON.writeValueAsString(value);
  }

  RouteRun of(LineRow line) {
    return Objects.requireNonNull(of(List.of(line)).get(line.id()));
  }

  /** Those of lines, by line. */
  Map<Long, RouteRun> of(Collection<LineRow> lines) {
    if (lines.isEmpty()) {
      return Map.of();
    }
    var stages = rows.of(lines.stream().map(LineRow::id).toList());
    var runs = new LinkedHashMap<Long, RouteRun>();
    for (var line : lines) {
      runs.put(line.id(), new RouteRun(stages.getOrDefault(line.id(), List.of()), state(line)));
    }
    return runs;
  }

  private static LineState state(LineRow line) {
    return LineState.Outcome.ofWord(line.state())
        .<LineState>map(outcome ->
            new LineState.Ended(outcome, Objects.requireNonNull(line.endedAt()), line.endReason()))
        .orElse(new LineState.Open());
  }

  /** Keeps the stages of a line that has not begun. */
  void insert(long line, RouteRun run) {
    rows.write(line, null, run, "");
  }

  /**
   * Writes how a line stands after a move.
   *
   * @param by whose sign-in it was that settled what is settled now
   */
  void write(
      LineRow line,
      RouteRun before,
      RouteRun after,
      String managerKey,
      long catalogue,
      Instant now,
      String by) {
    var ended = after.state() instanceof LineState.Ended over ? over : null;
    requests.update(
        new LineStanding(
            line.id(),
            line.conflicts(),
            line.exemptControl(),
            line.exemptUntil(),
            line.exemptBy(),
            ended == null ? "open" : ended.outcome().word(),
            ended == null ? null : ended.at(),
            ended == null ? "" : ended.reason(),
            after.due().orElse(null),
            managerKey,
            catalogue,
            now,
            ended == null ? line.openKey() : null));
    rows.write(line.id(), before, after, by);
  }

  /** The line with the conflicts that it would cause now. */
  static LineRow withConflicts(LineRow line, List<String> rules) {
    return changed(line, write(rules), line.exemptControl(), line.exemptUntil(), line.exemptBy());
  }

  /** The line with the terms on which its conflicts are allowed. */
  static LineRow exempt(LineRow line, String control, Instant until, String by) {
    return changed(line, line.conflicts(), control, until, by);
  }

  private static LineRow changed(
      LineRow line,
      String conflicts,
      String control,
      @Nullable Instant exemptUntil,
      String exemptBy) {
    return new LineRow(
        line.id(),
        line.requestId(),
        line.kind(),
        line.personId(),
        line.offer(),
        line.packageKey(),
        line.route(),
        line.reason(),
        line.answers(),
        line.selected(),
        line.startDay(),
        line.lastDay(),
        line.term(),
        conflicts,
        control,
        exemptUntil,
        exemptBy,
        line.aboutGrant(),
        line.state(),
        line.endedAt(),
        line.endReason(),
        line.dueAt(),
        line.managerKey(),
        line.catalogue(),
        line.lookedAt(),
        line.revision(),
        line.openKey());
  }
}
