package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Approver;
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
import glenmoor.store.requests.StageMapper;
import glenmoor.store.requests.StageMapper.ApproverRow;
import glenmoor.store.requests.StageMapper.StageRow;
import java.time.Duration;
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

/** Stages as core moves them, read from their rows and written to them. */
final class StageRows {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<LinkedHashMap<String, Object>> SAID = new TypeReference<>() {};

  private final StageMapper.Of of;
  private final StageMapper mapper;
  private final Catalogues catalogues;

  StageRows(StageMapper.Of of, StageMapper mapper, Catalogues catalogues) {
    this.of = of;
    this.mapper = mapper;
    this.catalogues = catalogues;
  }

  /** The stages of some, each in order. */
  Map<Long, List<StageRun>> of(Collection<Long> ids) {
    var approvers =
        mapper.approvers(of, ids).stream().collect(Collectors.groupingBy(ApproverRow::lineId));
    var catalogue = catalogues.current();
    return mapper.stages(of, ids).stream()
        .collect(
            Collectors.groupingBy(
                StageRow::lineId,
                LinkedHashMap::new,
                Collectors.mapping(
                    row -> stage(row, approvers.getOrDefault(row.lineId(), List.of()), catalogue),
                    Collectors.toList())));
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

  /**
   * Writes what has changed of the stages.
   *
   * @param before null where none are written yet
   * @param by whose sign-in it was that settled what is settled now
   */
  void write(long line, @Nullable RouteRun before, RouteRun after, String by) {
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
      mapper.putStages(of, stages);
      mapper.dropApprovers(of, line);
      if (!approvers.isEmpty()) {
        mapper.insertApprovers(of, approvers);
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
