package glenmoor.cli.playbooks;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor runs}. */
@Command(name = "runs", description = "Runs of playbooks, each for one person.")
public final class RunsCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists runs, the last one first.")
  void list(
      @Option(names = "--playbook", description = "Only of this playbook")
          @Nullable String playbook,
      @Option(names = "--worker", description = "Only for this person") @Nullable String worker,
      @Option(
              names = "--state",
              description = "open, held, stopped, done, ended, or unfinished for the first three")
          @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page =
        paging.of(client, "/api/v1/runs", "playbook", playbook, "worker", worker, "state", state);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("RUN", "id"),
            Column.of("PLAYBOOK", "playbook"),
            Column.of("WORKER", "worker"),
            Column.of("NAME", "person"),
            Column.of("DAY", "day"),
            Column.of("STATE", "state"),
            new Column(
                "STEP", row -> row.path("step").asInt() + " of " + row.path("steps").asInt()),
            new Column(
                "DUE",
                row -> row.path("dueAt").isNull() ? "" : Output.moment(row.path("dueAt"), zone)),
            Column.of("REASON", "reason")),
        "There are no such runs.");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a run: what each step did, and what comes.")
  void show(@Parameters(paramLabel = "RUN") long id, @Mixin Output output) {
    shown(client.get("/api/v1/runs/" + id), output);
  }

  private void shown(JsonNode shown, Output output) {
    var run = shown.path("run");
    var zone = zone();
    var lines = new ArrayList<String>();
    lines.add(
        "%s for %s (%s), about %s: %s%s"
            .formatted(
                run.path("name").asString(),
                run.path("person").asString(),
                run.path("worker").asString(),
                run.path("day").asString(),
                run.path("state").asString(),
                run.path("reason").asString("").isEmpty()
                    ? ""
                    : " — " + run.path("reason").asString()));
    for (var step : shown.path("steps")) {
      var at = step.path("settledAt").isNull() ? step.path("due") : step.path("settledAt");
      lines.add(
          "%3d  %-8s  %-18s  %s"
              .formatted(
                  step.path("number").asInt(),
                  step.path("state").asString(),
                  at.isNull() ? "" : Output.moment(at, zone),
                  PlaybooksCommand.said(step.path("said"))));
      if (!step.path("what").asString("").isEmpty()) {
        lines.add("                                    " + step.path("what").asString());
      }
    }
    output.one(shown, lines);
  }

  private void decide(long id, String what, Why why, Output output) {
    shown(client.post("/api/v1/runs/" + id + "/" + what, Map.of("reason", why.reason)), output);
  }

  /** Why something is decided. */
  static final class Why {
    @Option(names = "--reason", required = true, description = "Why; it is kept")
    String reason = "";
  }

  @Command(
      name = "hold",
      mixinStandardHelpOptions = true,
      description = "Keeps a run from going on.")
  void hold(@Parameters(paramLabel = "RUN") long id, @Mixin Why why, @Mixin Output output) {
    decide(id, "hold", why, output);
  }

  @Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Lets a run go on that was held.")
  void release(@Parameters(paramLabel = "RUN") long id, @Mixin Why why, @Mixin Output output) {
    decide(id, "release", why, output);
  }

  @Command(
      name = "again",
      mixinStandardHelpOptions = true,
      description = "Tries the step again at which a run stopped.")
  void again(@Parameters(paramLabel = "RUN") long id, @Mixin Why why, @Mixin Output output) {
    decide(id, "again", why, output);
  }

  @Command(
      name = "skip",
      mixinStandardHelpOptions = true,
      description = "Leaves out the next step of a run.")
  void skip(@Parameters(paramLabel = "RUN") long id, @Mixin Why why, @Mixin Output output) {
    decide(id, "skip", why, output);
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = "Ends a run before all of its steps are done.")
  void end(@Parameters(paramLabel = "RUN") long id, @Mixin Why why, @Mixin Output output) {
    decide(id, "end", why, output);
  }

  @Command(
      name = "restart",
      mixinStandardHelpOptions = true,
      description = "Goes back to a step of a run, and on from there.")
  void restart(
      @Parameters(paramLabel = "RUN") long id,
      @Option(names = "--step", required = true, description = "Its number, from 1") int step,
      @Mixin Why why,
      @Mixin Output output) {
    shown(
        client.post("/api/v1/runs/" + id + "/restart", Map.of("step", step, "reason", why.reason)),
        output);
  }
}
