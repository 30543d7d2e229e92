package glenmoor.cli.letters;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor letters}. */
@Command(
    name = "letters",
    description = "Letters, and what else was told to people and programs outside.")
public final class LettersCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what was told or is to be, the last one first.")
  void list(
      @Option(names = "--worker", description = "Only about this person") @Nullable String worker,
      @Option(names = "--state", description = "waiting, sent or failed") @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/messages", "worker", worker, "state", state);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("MESSAGE", "id"),
            Column.of("KIND", "kind"),
            Column.of("ABOUT", "worker"),
            new Column("TO", LettersCommand::to),
            Column.of("SUBJECT", "subject"),
            Column.of("STATE", "state"),
            new Column("SINCE", row -> Output.moment(since(row), zone)),
            Column.of("REASON", "reason")),
        "Nothing was told to anybody.");
  }

  private static String to(JsonNode row) {
    var address = row.path("address").asString("");
    return address.isEmpty() ? row.path("channel").asString() : address;
  }

  private static JsonNode since(JsonNode row) {
    return row.path("settledAt").isNull() ? row.path("createdAt") : row.path("settledAt");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows one message with what it says; where a passcode stood there are dots.")
  void show(@Parameters(paramLabel = "MESSAGE") long id, @Mixin Output output) {
    shown(client.get("/api/v1/messages/" + id), output);
  }

  private void shown(JsonNode shown, Output output) {
    var message = shown.path("message");
    var zone = zone();
    var lines = new ArrayList<String>();
    lines.add(message.path("subject").asString());
    lines.add("  to       " + to(message));
    lines.add("  about    " + message.path("person").asString(""));
    lines.add(
        "  %-7s  %s"
            .formatted(message.path("state").asString(), Output.moment(since(message), zone)));
    if (!message.path("reason").asString("").isEmpty()) {
      lines.add("  reason   " + message.path("reason").asString());
    }
    if (!message.path("answer").asString("").isEmpty()) {
      lines.add("  answer   " + message.path("answer").asString());
    }
    lines.add("");
    lines.addAll(shown.path("text").asString().lines().toList());
    output.one(shown, lines);
  }

  @Command(
      name = "again",
      mixinStandardHelpOptions = true,
      description = "Sends one again that failed.")
  void again(@Parameters(paramLabel = "MESSAGE") long id, @Mixin Output output) {
    shown(client.post("/api/v1/messages/" + id + "/again", null), output);
  }

  @Command(
      name = "templates",
      mixinStandardHelpOptions = true,
      description = "Lists the letters that are defined.")
  void templates(@Mixin Paging paging, @Mixin Output output) {
    var all = paging.of(client, "/api/v1/letters");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("LETTER", "key"), Column.of("NAME", "name"), Column.of("SUBJECT", "subject")),
        "No letter is defined.");
  }

  @Command(
      name = "preview",
      mixinStandardHelpOptions = true,
      description = "Shows a letter as it would be written about somebody today.",
      footer = {"", "Example: glenmoor letters preview welcome W-01012"})
  void preview(
      @Parameters(paramLabel = "LETTER") String letter,
      @Parameters(paramLabel = "WORKER") String worker,
      @Mixin Output output) {
    var written =
        client.get(
            "/api/v1/letters/"
                + Client.encoded(letter)
                + "/preview"
                + Client.query("worker", worker));
    output.one(
        written,
        Stream.concat(
                Stream.of(written.path("subject").asString(), ""),
                written.path("text").asString().lines())
            .collect(Collectors.toList()));
  }
}
