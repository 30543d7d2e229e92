package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.PlaybookKind;
import glenmoor.core.playbooks.RunState;
import glenmoor.core.playbooks.Step;
import glenmoor.core.playbooks.When;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.StepRow;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The steps that runs kept of their playbooks. */
@Named
final class KeptSteps {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<LinkedHashMap<String, Object>> SAID = new TypeReference<>() {};

  /**
   * A step that a run kept.
   *
   * @param step nothing where it cannot be carried out with what is defined now
   * @param problem why, as a sentence; empty where it can be
   */
  record Kept(StepRow row, Map<String, Object> said, Optional<Step> step, String problem) {
    /** Its times are known even where it cannot be carried out any more. */
    RunState.Timing timing() {
      return new RunState.Timing(
          Optional.ofNullable(said.get("at")).map(Object::toString).flatMap(When::of),
          "go-on".equals(said.get("fails")));
    }
  }

  private final PlaybookRunMapper runs;
  private final Catalogues catalogues;

  KeptSteps(PlaybookRunMapper runs, Catalogues catalogues) {
    this.runs = runs;
    this.catalogues = catalogues;
  }

  /** By run, in their order. */
  Map<Long, List<Kept>> of(Collection<Long> ids) {
    var kept = new LinkedHashMap<Long, List<Kept>>();
    if (!ids.isEmpty()) {
      runs.stepsOf(ids)
          .forEach(
              row -> kept.computeIfAbsent(row.runId(), id -> new ArrayList<>()).add(read(row)));
    }
    return kept;
  }

  private Kept read(StepRow row) {
    var said = said(row.said());
    var problems = new ArrayList<String>();
    var step = PlaybookKind.kept(said, catalogues.current().defined(), problems);
    return new Kept(row, said, step, String.join(" ", problems));
  }

  /** A step as its playbook said it, in its order: its first word says what it does. */
  static Map<String, Object> said(String json) {
    return JSON.readValue(json, SAID);
  }

  static String write(Map<String, Object> said) {
    return JSON.writeValueAsString(said);
  }
}
