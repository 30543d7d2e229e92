package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Approver;
import glenmoor.core.requests.LineState;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.StageState;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Times;
import glenmoor.core.requests.StageState.Verdict;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.ApproverRow;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.LineStanding;
import glenmoor.store.requests.RequestMapper.StageRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Lines as core moves them, read from their rows and written to them. */
@Named
final class LineRuns {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<LinkedHashMap<String, Object>> SAID = new TypeReference<>() {};
  private static final TypeReference<LinkedHashMap<String, String>> ANSWERS =
      new TypeReference<>() {};
  private static final TypeReference<List<String>> KEYS = new TypeReference<>() {};

  private final RequestMapper requests;
  private final Catalogues catalogues;

  LineRuns(RequestMapper requests, Catalogues catalogues) {
    this.requests = requests;
    this.catalogues = catalogues;
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
    var ids = lines.stream().map(LineRow::id).toList();
    var stages = requests.stages(ids).stream().collect(Collectors.groupingBy(StageRow::lineId));
    var approvers =
        requests.approvers(ids).stream().collect(Collectors.groupingBy(ApproverRow::lineId));
    var catalogue = catalogues.current();
    var runs = new LinkedHashMap<Long, RouteRun>();
    for (var line : lines) {
      var asked = approvers.getOrDefault(line.id(), List.of());
      runs.put(
          line.id(),
          new RouteRun(
              stages.getOrDefault(line.id(), List.of()).stream()
                  .map(row -> stage(row, asked, catalogue))
                  .toList(),
              state(line)));
    }
    return runs;
  }

  private static LineState state(LineRow line) {
    return LineState.Outcome.ofWord(line.state())
        .<LineState>map(outcome ->
            new LineState.Ended(outcome, Objects.requireNonNull(line.endedAt()), line.endReason()))
        .orElse(new LineState.Open());
  }

  private static StageRun stage(StageRow row, List<ApproverRow> asked, Catalogue catalogue) {
    return new StageRun(
        RouteKind.kept(JSON.readValue(row.said(), SAID), catalogue.defined()),
        state(row),
        asked.stream()
            .filter(each -> each.stage().equals(row.number()))
            .map(each ->
                new Approver(
                    new PersonId(each.namedId()),
                    new PersonId(each.personId()),
                    Approver.As.ofWord(each.cameAs()).orElseThrow(),
                    each.agreed()))
            .toList(),
        row.openedAt());
  }

  private static StageState state(StageRow row) {
    return switch (row.state()) {
      case "ahead" -> new Ahead();
      case "open" -> new Open(times(row));
      case "held" ->
          new Held(
              times(row),
              new PersonId(Objects.requireNonNull(row.heldBy())),
              Objects.requireNonNull(row.heldAt()),
              Objects.requireNonNull(row.heldUntil()),
              row.reason());
      default ->
          new Settled(
              Verdict.ofWord(row.state()).orElseThrow(),
              Objects.requireNonNull(row.settledAt()),
              row.settledBy() == null ? null : new PersonId(row.settledBy()),
              row.reason());
    };
  }

  private static Times times(StageRow row) {
    return new Times(
        Objects.requireNonNull(row.since()),
        Duration.ofSeconds(row.stoodSeconds()),
        row.nudged(),
        row.standbyJoined(),
        row.wentOn());
  }

  /** Keeps the stages of a line that has not begun. */
  void insert(long line, RouteRun run) {
    writeStages(line, null, run, "");
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
    writeStages(line.id(), before, after, by);
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

  private void writeStages(long line, @Nullable RouteRun before, RouteRun after, String by) {
    var stages = new ArrayList<StageRow>();
    var approvers = new ArrayList<ApproverRow>();
    for (var i = 0; i < after.stages().size(); i++) {
      var stage = after.stages().get(i);
      if (before == null || i >= before.stages().size() || !before.stages().get(i).equals(stage)) {
        stages.add(row(line, i, stage, by));
      }
      for (var each : stage.approvers()) {
        approvers.add(
            new ApproverRow(
                line,
                i,
                each.named().value(),
                each.person().value(),
                each.as().word(),
                each.agreed(),
                stage.waits() && !each.agreed()));
      }
    }
    if (!stages.isEmpty()) {
      requests.putStages(stages);
      requests.dropApprovers(line);
      if (!approvers.isEmpty()) {
        requests.insertApprovers(approvers);
      }
    }
  }

  private static StageRow row(long line, int number, StageRun stage, String by) {
    return switch (stage.state()) {
      case Ahead ahead -> row(line, number, stage, "ahead", null, null, null, "");
      case Open open -> row(line, number, stage, "open", open.times(), null, null, "");
      case Held held -> row(line, number, stage, "held", held.times(), held, null, "");
      case Settled settled ->
          row(line, number, stage, settled.verdict().word(), null, null, settled, by);
    };
  }

  private static StageRow row(
      long line,
      int number,
      StageRun stage,
      String state,
      @Nullable Times times,
      @Nullable Held held,
      @Nullable Settled settled,
      String by) {
    var settledBy = settled == null ? null : settled.by();
    return new StageRow(
        line,
        number,
        JSON.writeValueAsString(stage.rule().said()),
        state,
        stage.opened(),
        times == null ? null : times.since(),
        times == null ? 0L : times.stood().toSeconds(),
        times == null ? 0 : times.nudged(),
        times != null && times.standbyJoined(),
        times != null && times.wentOn(),
        held == null ? null : held.by().value(),
        held == null ? null : held.at(),
        held == null ? null : held.until(),
        settled == null ? null : settled.at(),
        settledBy == null ? null : settledBy.value(),
        settled == null ? "" : by,
        settled != null ? settled.reason() : held != null ? held.reason() : "");
  }
}
