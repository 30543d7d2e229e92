package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor away}. */
@Command(name = "away", description = "Who acts for you while you are away.")
public final class AwayCommand extends Group {
  private static final String PATH = "/api/v1/away-periods";

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the away periods that are not over.")
  void list(
      @Option(names = "--of", paramLabel = "WORKER", description = "Administrators: whose")
          @Nullable String worker,
      @Mixin Paging paging,
      @Mixin Output output) {
    var periods = paging.of(client, PATH, "worker", worker);
    output.list(
        periods,
        periods.path("items"),
        List.of(
            Column.of("PERIOD", "id"),
            Column.of("WHO", "name"),
            Column.of("DEPUTY", "deputyName"),
            Column.of("FROM", "from"),
            Column.of("UNTIL", "until")),
        "No away period is set.");
  }

  @Command(
      name = "set",
      mixinStandardHelpOptions = true,
      description = "Has somebody act for you from a day to a day, both included.")
  void set(
      @Option(names = "--deputy", required = true, paramLabel = "WORKER", description = "Who acts")
          String deputy,
      @Option(names = "--from", required = true, paramLabel = "DAY", description = "The first day")
          String from,
      @Option(names = "--until", required = true, paramLabel = "DAY", description = "The last day")
          String until,
      @Option(names = "--of", paramLabel = "WORKER", description = "Administrators: whose")
          @Nullable String worker,
      @Mixin Output output) {
    var made =
        client.post(
            PATH,
            Client.object(
                "worker",
                worker == null ? "" : worker,
                "deputy",
                deputy,
                "from",
                from,
                "until",
                until));
    output.one(
        made,
        List.of(
            "%s acts for %s from %s to %s."
                .formatted(
                    made.path("deputyName").asString(),
                    made.path("name").asString(),
                    made.path("from").asString(),
                    made.path("until").asString())));
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = "Ends an away period before its time.")
  void end(@Parameters(paramLabel = "PERIOD") long id, @Mixin Output output) {
    client.post(PATH + "/" + id + "/end", null);
    output.line("It has ended.");
  }
}
