package glenmoor.cli.authorization;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor duties}. */
@Command(
    name = "duties",
    description = "Duties: who was given which, for what, and from when to when.")
public final class DutiesCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists duties, the newest first.")
  void list(
      @Option(names = "--ended", description = "Those that were taken too") boolean ended,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/duties", "ended", ended ? "true" : null);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("NUMBER", "id"),
            Column.of("SIGN-IN", "login"),
            new Column("DUTY", DutiesCommand::words),
            Column.of("FROM", "from"),
            Column.of("UNTIL", "until"),
            new Column("STATE", DutiesCommand::state),
            Column.of("GIVEN BY", "givenBy"),
            Column.of("REASON", "reason")),
        "Nobody has a duty.");
  }

  /** A duty with what it is for: {@code fixer:directory}. */
  public static String words(JsonNode given) {
    var key = given.path("key").asString("");
    return given.path("duty").asString() + (key.isEmpty() ? "" : ":" + key);
  }

  private static String state(JsonNode given) {
    if (!given.path("endedAt").isNull()) {
      return "taken: " + given.path("endReason").asString();
    }
    return given.path("inForce").asBoolean() ? "in force" : "not in force today";
  }

  @Command(
      name = "give",
      mixinStandardHelpOptions = true,
      description = {
        "Gives a sign-in a duty: administrator, auditor or people-desk, or for one application",
        "application-owner:KEY or fixer:KEY. One they have already takes the new dates."
      })
  void give(
      @Parameters(paramLabel = "SIGN-IN") String login,
      @Parameters(paramLabel = "DUTY") String duty,
      @Option(names = "--from", paramLabel = "DAY", description = "Its first day. Default: today")
          @Nullable LocalDate from,
      @Option(names = "--until", paramLabel = "DAY", description = "Its last day. Default: open")
          @Nullable LocalDate until,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    output.noCsv();
    var body = Client.object("login", login, "duty", duty, "reason", reason);
    if (from != null) {
      body.put("from", from.toString());
    }
    if (until != null) {
      body.put("until", until.toString());
    }
    var given = client.post("/api/v1/duties", body);
    output.one(
        given,
        List.of(
            "%s is given %s (number %s)."
                .formatted(login, words(given), given.path("id").asString())));
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = "Takes a duty, as duties list numbers it.")
  void end(
      @Parameters(paramLabel = "NUMBER") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    output.noCsv();
    var ended = client.post("/api/v1/duties/" + id + "/end", Client.object("reason", reason));
    output.one(
        ended,
        List.of("%s no longer has %s.".formatted(ended.path("login").asString(), words(ended))));
  }
}
