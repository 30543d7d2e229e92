package glenmoor.cli.exchange;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor exchange}. */
@Command(
    name = "exchange",
    description = "Files exchanged with applications that take their changes as files.")
public final class ExchangeCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the files written for an application, and when each was answered.",
      footer = {"", "Example: glenmoor exchange list mishap-book"})
  void list(
      @Parameters(paramLabel = "APPLICATION") String key,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, path(key));
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("FILE", "name"),
            Column.of("ACCOUNTS", "rows"),
            Column.of("WRITTEN", "writtenAt"),
            Column.of("BY", "writtenBy"),
            new Column("ANSWERED", ExchangeCommand::answered)),
        "No file was written for it yet. Write one with: glenmoor exchange write " + key);
  }

  private static String answered(JsonNode file) {
    return file.path("answeredAt").isNull()
        ? "not yet"
        : "%s: %s%s"
            .formatted(
                file.path("answeredAt").asString(),
                Output.count(file.path("accounts").asLong(), "account", "accounts"),
                file.path("problems").asLong() == 0
                    ? ""
                    : ", " + Output.count(file.path("problems").asLong(), "problem", "problems"));
  }

  @Command(
      name = "write",
      mixinStandardHelpOptions = true,
      description = "Writes a file with what waits for an application, without its schedule.")
  void write(@Parameters(paramLabel = "APPLICATION") String key, @Mixin Output output) {
    var file = client.post(path(key), Map.of());
    output.one(
        file,
        List.of(
            "Wrote %s about %s."
                .formatted(
                    file.path("name").asString(),
                    Output.count(file.path("rows").asLong(), "account", "accounts"))));
  }

  private static String path(String application) {
    return "/api/v1/applications/" + Client.encoded(application) + "/files";
  }
}
