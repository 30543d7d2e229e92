package glenmoor.cli.jobs;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor work}. */
@Command(
    name = "work",
    description = "Long work: feeds being read, forecasts, loads, and the clock on its way.")
public final class WorkCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists your work, the newest first; everybody's for those who see it.")
  void list(
      @Option(names = "--open", description = "Only what waits or goes on") boolean open,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/progress", "open", open ? "true" : null);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("WORK", "id"),
            new Column("BEGAN", row -> Output.moment(row.path("startedAt"), zone)),
            Column.of("BY", "owner"),
            Column.of("STATE", "state"),
            Column.of("WHAT", "what"),
            Column.of("HOW FAR", "sentence")),
        open ? "Nothing waits or goes on." : "No work was begun yet.");
  }

  @Command(
      name = "follow",
      mixinStandardHelpOptions = true,
      description = "Waits for work to end, and says how it did.")
  void follow(
      @Parameters(paramLabel = "WORK", description = "Its number, from glenmoor work list") long id,
      @Mixin Output output) {
    output.noCsv();
    var result = client.await(client.get("/api/v1/progress/" + id), output);
    var ended = client.get("/api/v1/progress/" + id);
    output.one(ended, List.of(said(ended, result)));
  }

  private static String said(JsonNode work, JsonNode result) {
    return "%s: %s"
        .formatted(work.path("what").asString(""), result.path("sentence").asString("done"));
  }

  @Command(
      name = "cancel",
      mixinStandardHelpOptions = true,
      description = "Stops work whose doing is not done yet; nothing of it is kept.")
  void cancel(
      @Parameters(paramLabel = "WORK", description = "Its number, from glenmoor work list") long id,
      @Mixin Output output) {
    output.noCsv();
    var work = client.post("/api/v1/progress/%d/cancel".formatted(id), Client.object());
    output.one(
        work,
        List.of(
            "Work %d (%s) stops as soon as it looks up; glenmoor work list shows when it has."
                .formatted(id, work.path("what").asString(""))));
  }
}
