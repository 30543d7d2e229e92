package glenmoor.cli.playbooks;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor playbooks}. */
@Command(
    name = "playbooks",
    description = "Playbooks: what is done when something happens to a person.")
public final class PlaybooksCommand extends Group {
  private static String path(String key) {
    return "/api/v1/playbooks/" + Client.encoded(key);
  }

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists playbooks, and how many runs of each go on.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var all = paging.of(client, "/api/v1/playbooks");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("PLAYBOOK", "key"),
            Column.of("NAME", "name"),
            Column.of("ON", "on"),
            Column.of("FOR", "where"),
            new Column("STEPS", row -> String.valueOf(row.path("steps").size())),
            new Column("OPEN", row -> runs(row, "open")),
            new Column("HELD", row -> runs(row, "held")),
            new Column("STOPPED", row -> runs(row, "stopped")),
            new Column("DONE", row -> runs(row, "done"))),
        "No playbook is defined.");
  }

  private static String runs(JsonNode row, String state) {
    return String.valueOf(row.path("runs").path(state).asInt(0));
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a playbook with its steps.")
  void show(@Parameters(paramLabel = "PLAYBOOK") String key, @Mixin Output output) {
    var shown = client.get(path(key));
    var lines = new ArrayList<String>();
    lines.add(
        "%s — on %s%s"
            .formatted(
                shown.path("name").asString(),
                shown.path("on").asString(),
                shown.path("of").asString("").isEmpty() ? "" : " " + shown.path("of").asString()));
    if (!shown.path("where").asString("").isEmpty()) {
      lines.add("  for  " + shown.path("where").asString());
    }
    lines.add(
        "  what happened more than %d days ago begins no run"
            .formatted(shown.path("lateDays").asInt()));
    var number = 1;
    for (var step : shown.path("steps")) {
      lines.add("%3d  %s".formatted(number++, said(step)));
    }
    output.one(shown, lines);
  }

  /** {@code letter welcome — on the day, 07:00; to: manager}. */
  static String said(JsonNode step) {
    var more = new ArrayList<String>();
    if (!step.path("at").asString("").isEmpty()) {
      more.add(step.path("at").asString());
    }
    step.path("more")
        .properties()
        .forEach(each -> more.add(each.getKey() + ": " + each.getValue().asString()));
    return "%s %s%s"
        .formatted(
            step.path("does").asString(),
            step.path("what").asString(),
            more.isEmpty() ? "" : " — " + String.join("; ", more));
  }

  @Command(
      name = "rehearse",
      mixinStandardHelpOptions = true,
      description = "Says what each step would do for somebody, as things are now; does nothing.",
      footer = {"", "Example: glenmoor playbooks rehearse leaver W-01056"})
  void rehearse(
      @Parameters(paramLabel = "PLAYBOOK") String key,
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(names = "--day", description = "The day it would be about, such as 2027-04-01")
          @Nullable String day,
      @Mixin Output output) {
    var rehearsal =
        client.get(path(key) + "/rehearsal" + Client.query("worker", worker, "day", day));
    var zone = zone();
    var lines = new ArrayList<String>();
    lines.add(
        "%s (%s)%s"
            .formatted(
                rehearsal.path("name").asString(),
                rehearsal.path("worker").asString(),
                rehearsal.path("isFor").asBoolean() ? "" : ": the playbook is not for them"));
    for (var step : rehearsal.path("steps")) {
      lines.add(
          "%3d  %-18s %s%s"
              .formatted(
                  step.path("number").asInt(),
                  step.path("due").isNull() ? "then" : Output.moment(step.path("due"), zone),
                  step.path("good").asBoolean() ? "" : "cannot: ",
                  step.path("sentence").asString()));
    }
    output.one(rehearsal, lines);
  }

  @Command(
      name = "play",
      mixinStandardHelpOptions = true,
      description = "Plays a playbook that begins on demand for people you choose.")
  void play(
      @Parameters(paramLabel = "PLAYBOOK") String key,
      @Parameters(paramLabel = "WORKER", arity = "1..*") List<String> workers,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Option(names = "--day", description = "The day it is about; today where none is said")
          @Nullable String day,
      @Mixin Output output) {
    var body = new HashMap<String, Object>();
    body.put("workers", workers);
    body.put("reason", reason);
    if (day != null) {
      body.put("day", day);
    }
    var played = client.post(path(key) + "/runs", body);
    var lines = new ArrayList<String>();
    lines.add(Output.count(played.path("runs").size(), "run begins.", "runs begin."));
    played.path("left").forEach(each -> lines.add("  " + each.asString()));
    output.one(played, lines);
  }

  @Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Lets all runs of a playbook go on that the brake on playbooks holds.")
  void release(
      @Parameters(paramLabel = "PLAYBOOK") String key,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    var released = client.post(path(key) + "/release", Map.of("reason", reason));
    output.one(
        released,
        List.of(Output.count(released.path("runs").asInt(), "run goes on.", "runs go on.")));
  }
}
