package glenmoor.cli.applications;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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
