package glenmoor.cli.usage;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor usage}. */
@Command(name = "usage", description = "When access was used, and what is idle.")
public final class UsageCommand extends Group {
  @Command(
      name = "load",
      mixinStandardHelpOptions = true,
      description = {
        "Takes a file of uses: CSV with the columns account or worker, entitlement and last used.",
        "What is older than what is known changes nothing."
      },
      footer = {"", "Example: glenmoor usage load quaybook sign-ins.csv"})
  void load(
      @Parameters(paramLabel = "APPLICATION") String application,
      @Parameters(paramLabel = "FILE") Path file,
      @Mixin Output output) {
    var taken =
        client.await(
            client.postFile(
                "/api/v1/applications/%s/uses/file%s"
                    .formatted(
                        Client.encoded(application),
                        Client.query("fileName", String.valueOf(file.getFileName()))),
                file),
            output);
    var said = new ArrayList<String>();
    said.add(
        "%s read, %,d taken, %,d not."
            .formatted(
                Output.count(taken.path("lines").asLong(), "line", "lines"),
                taken.path("taken").asInt(),
                taken.path("rejected").asInt()));
    taken
        .path("notTaken")
        .forEach(each ->
            said.add(
                "  line %d: %s"
                    .formatted(each.path("line").asInt(), each.path("sentence").asString())));
    output.one(taken, said);
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows when somebody's accounts and rights were used last.")
  void show(@Parameters(paramLabel = "WORKER") String worker, @Mixin Output output) {
    var zone = zone();
    var uses = client.get("/api/v1/people/" + Client.encoded(worker) + "/uses");
    output.list(
        uses,
        uses,
        List.of(
            Column.of("APPLICATION", "application"),
            Column.of("ACCOUNT", "account"),
            Column.of("RIGHT", "entitlement"),
            new Column("LAST USED", row -> Output.moment(row.path("lastUsed"), zone))),
        "No use was told of.");
  }

  @Command(
      name = "idle",
      mixinStandardHelpOptions = true,
      description =
          "Lists accounts and rights that were not used for as long as their application says.")
  void idle(
      @Option(names = "--application", description = "Only there") @Nullable String application,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var page = paging.of(client, "/api/v1/idle-access", "application", application);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("WORKER", "worker"),
            Column.of("PERSON", "person"),
            Column.of("APPLICATION", "application"),
            Column.of("RIGHT", "entitlement"),
            new Column("LAST USED", row -> Output.moment(row.path("lastUsed"), zone)),
            new Column("COUNTS FROM", row -> Output.moment(row.path("since"), zone))),
        "Nothing is idle.");
  }
}
