package glenmoor.cli.applications;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor applications}. */
@Command(
    name = "applications",
    description = "Applications: their health, and a test of their connectors.")
public final class ApplicationsCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the applications with their health and load.")
  void list(@Mixin Output output) {
    var all = client.get("/api/v1/applications");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("APPLICATION", "key"),
            Column.of("NAME", "name"),
            Column.of("CONNECTOR", "connector"),
            Column.of("HEALTH", "health"),
            Column.of("ACCOUNTS", "accounts"),
            Column.of("ENABLED", "enabled"),
            Column.of("WAITING", "waiting"),
            Column.of("FAULTS", "faults"),
            Column.of("SENTENCE", "sentence")),
        "No application is defined yet. Define one with: glenmoor define load FILE");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows one application: how accounts are looked after, its rights, what comes.")
  void show(@Parameters(paramLabel = "APPLICATION") String key, @Mixin Output output) {
    var shown = client.get("/api/v1/applications/" + Client.encoded(key));
    if (output.isTable()) {
      output.line(
          "%s (%s), connector %s"
              .formatted(shown.path("name").asString(), key, shown.path("connector").asString()));
      shown.path("care").forEach(each -> output.line("  " + each.asString()));
      shown
          .path("coming")
          .forEach(each ->
              output.line(
                  "  on %s: %s"
                      .formatted(
                          each.path("day").asString(),
                          each.path("what").asString().equals("deleted")
                              ? Output.count(each.path("number").asLong(), "account", "accounts")
                                  + " deleted after the hold"
                              : Output.count(each.path("number").asLong(), "grant", "grants")
                                  + " ending")));
      output.line("");
    }
    output.list(
        shown,
        shown.path("rights"),
        List.of(
            Column.of("RIGHT", "name"),
            Column.of("ENTITLEMENT", "key"),
            Column.of("TECHNICAL", "technicalName"),
            Column.of("KIND", "kind"),
            Column.of("HOLDERS", "holders")),
        "No right there is defined.");
  }

  @Command(
      name = "accounts",
      mixinStandardHelpOptions = true,
      description = "Lists an application's accounts, in the order in which they were made.")
  void accounts(
      @Parameters(paramLabel = "APPLICATION") String key,
      @Option(names = "--seen", description = "Only these: enabled, disabled or none")
          @Nullable String seen,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page =
        paging.of(
            client, "/api/v1/applications/" + Client.encoded(key) + "/accounts", "seen", seen);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ACCOUNT", "account"),
            Column.of("WORKER", "worker"),
            Column.of("PERSON", "person"),
            Column.of("SEEN", "seenState"),
            Column.of("TO BE", "state"),
            Column.of("RIGHTS", "rights")),
        "Nobody has an account there.");
  }

  @Command(
      name = "health",
      mixinStandardHelpOptions = true,
      description = "Shows when an application became well or unwell in the last days.")
  void health(
      @Parameters(paramLabel = "APPLICATION") String key,
      @Option(names = "--days", defaultValue = "30", description = "How many. Default: 30")
          int days,
      @Mixin Output output) {
    var turns =
        client.get(
            "/api/v1/applications/%s/health%s"
                .formatted(Client.encoded(key), Client.query("days", days)));
    output.list(
        turns,
        turns.path("items"),
        List.of(
            Column.of("FROM", "at"), Column.of("HEALTH", "state"), Column.of("FOUND", "sentence")),
        "It was not asked in that time.");
  }

  @Command(
      name = "preview",
      mixinStandardHelpOptions = true,
      description =
          "Shows what an application's mappings come to for one person, beside what was last seen there.",
      footer = {"", "Example: glenmoor applications preview directory W-01007"})
  void preview(
      @Parameters(paramLabel = "APPLICATION") String key,
      @Parameters(paramLabel = "WORKER") String worker,
      @Mixin Output output) {
    var preview =
        client.get(
            "/api/v1/applications/%s/preview%s"
                .formatted(Client.encoded(key), Client.query("worker", worker)));
    output.list(
        preview,
        preview.path("lines"),
        List.of(
            Column.of("MAPPED", "what"),
            new Column(
                "COMES TO",
                line ->
                    line.path("problem").asString().isEmpty()
                        ? line.path("value").asString()
                        : "! " + line.path("problem").asString()),
            Column.of("LAST SEEN", "seen"),
            Column.of("EXPRESSION", "expression")),
        "Nothing is mapped.");
  }

  @Command(
      name = "test",
      mixinStandardHelpOptions = true,
      description = "Asks an application for something small, and counts its accounts.")
  void test(@Parameters(paramLabel = "APPLICATION") String key, @Mixin Output output) {
    output.noCsv();
    var result = client.post("/api/v1/applications/" + Client.encoded(key) + "/test", null);
    var lines = new ArrayList<String>();
    lines.add(
        "%s %s".formatted(result.path("name").asString(), result.path("sentence").asString()));
    lines.add(
        "%s there, %s known to Glenmoor"
            .formatted(
                Output.count(result.path("accountsThere").asLong(), "account", "accounts"),
                result.path("accountsKnown").asString()));
    result.path("abilities").forEach(each -> lines.add("  · " + each.asString()));
    result.path("missing").forEach(each -> lines.add("  ! " + each.asString()));
    output.one(result, lines);
    if (!result.path("well").asBoolean()) {
      throw new Client.Failed("The test failed.");
    }
  }
}
