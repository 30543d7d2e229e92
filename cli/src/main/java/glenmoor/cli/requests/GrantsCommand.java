package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.HashMap;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor grants}. */
@Command(name = "grants", description = "What people hold, and giving it back.")
public final class GrantsCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what somebody holds now or will, what ends first coming first.")
  void list(
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var held = paging.of(client, "/api/v1/grants", "worker", whose(worker));
    output.list(
        held,
        held.path("items"),
        List.of(
            Column.of("GRANT", "id"),
            Column.of("NAME", "name"),
            Column.of("BASIS", "basis"),
            new Column("FROM", row -> Output.moment(row.path("startsAt"), zone)),
            new Column("TO", row -> Output.moment(row.path("endsAt"), zone))),
        "Nothing.");
  }

  private String whose(@Nullable String worker) {
    if (worker != null) {
      return worker;
    }
    var own = client.get("/api/v1/session").path("worker").asString("");
    if (own.isEmpty()) {
      throw wrong("You are no person here who could hold something; say --of WORKER.");
    }
    return own;
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description =
          "Gives something back, or takes it: it ends at once, with all that came with it.")
  void end(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    client.post("/api/v1/grants/" + id + "/end", Client.object("reason", reason));
    output.line("It has ended.");
  }

  @Command(
      name = "extend",
      mixinStandardHelpOptions = true,
      description = "Asks for more time, on the terms of its offer.")
  void extend(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Option(names = "--until", paramLabel = "DAY", description = "The last day")
          @Nullable String until,
      @Option(names = "--reason", description = "What it is needed for") @Nullable String reason,
      @Mixin Output output) {
    var own = whose(worker);
    var offer = "";
    JsonNode held = client.get("/api/v1/grants" + Client.query("worker", own, "limit", 500));
    for (var each : held.path("items")) {
      if (each.path("id").asString().equals(String.valueOf(id))) {
        offer = each.path("offer").asString();
      }
    }
    if (offer.isEmpty()) {
      throw new Client.Failed("There is no grant %d that was asked for.".formatted(id));
    }
    var line = new HashMap<String, Object>();
    line.put("offer", offer);
    line.put("worker", own);
    line.put("kind", "extend");
    line.put("grant", id);
    line.put("reason", reason == null ? "" : reason);
    if (until != null) {
      line.put("lastDay", until);
    }
    var asked = client.post("/api/v1/requests", Client.object("lines", List.of(line)));
    output.one(asked, List.of("Asked for as request %s.".formatted(asked.path("id").asString())));
  }
}
