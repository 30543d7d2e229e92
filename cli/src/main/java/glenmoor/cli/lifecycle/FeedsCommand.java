package glenmoor.cli.lifecycle;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor feeds}. */
@Command(
    name = "feeds",
    description = "Files from HR: load them, forecast them, see what was rejected.")
public final class FeedsCommand extends Group {

  @Command(
      name = "load",
      mixinStandardHelpOptions = true,
      description = {
        "Loads a file of workers: compares it with what is known and carries out what follows.",
        "With --forecast it only says what would happen."
      })
  void load(
      @Parameters(paramLabel = "FILE", description = "The file, as the source delivered it")
          Path file,
      @Option(
              names = "--source",
              description = "Which source it is from; not needed when there is one")
          @Nullable String source,
      @Option(names = "--forecast", description = "Say what would happen, and do nothing")
          boolean forecast,
      @Mixin Output output) {
    output.noCsv();
    var accepted =
        client.postFile(
            "/api/v1/feeds"
                + Client.query(
                    "source", source, "fileName", file.getFileName(), "forecast", forecast),
            file);
    var result = client.await(accepted, output);
    output.one(result, forecast ? forecast(result, zone()) : loaded(result));
    if (!forecast && !result.path("whole").asBoolean(true)) {
      throw new Client.Failed(
          result.hasNonNull("held")
              ? "Held: nothing was changed."
              : "Not all of it counted: see the sentence above.");
    }
  }

  private static List<String> loaded(JsonNode result) {
    var lines = new ArrayList<String>();
    lines.add(
        "Feed %s: %s"
            .formatted(
                result.path("feed").asString(),
                result.path("sentence").asString().replaceFirst("([^.])$", "$1.")));
    if (result.hasNonNull("held")) {
      lines.add("It would mean:");
    }
    result
        .path("events")
        .properties()
        .forEach(
            each -> lines.add("  %4s %s".formatted(each.getValue().asString(), each.getKey())));
    if (result.path("rejected").asInt() > 0) {
      lines.add("See them with: glenmoor feeds rejects " + result.path("feed").asString());
    }
    if (result.hasNonNull("held")) {
      lines.add("See what it would do with: glenmoor held show " + result.path("held").asString());
    }
    return lines;
  }

  private static List<String> forecast(JsonNode result, String zone) {
    var lines = new ArrayList<String>();
    var sum = result.path("sum");
    lines.add(
        "Nothing was done. Of %s rows, %s would be rejected; %s people change, by %s operations."
            .formatted(
                result.path("rows").asString(),
                result.path("rejected").asString(),
                sum.path("people").asString(),
                sum.path("operations").asString()));
    result.path("warnings").forEach(each -> lines.add("! " + each.asString()));
    lines.add("");
    lines.add("events      " + counts(result.path("events")));
    lines.add("operations  " + counts(sum.path("operationsByKind")));
    sum.path("byApplication")
        .properties()
        .forEach(each ->
            lines.add(
                "%-11s %s gained, %s lost"
                    .formatted(
                        each.getKey(),
                        each.getValue().path("gains").asString(),
                        each.getValue().path("losses").asString())));
    lines.add("");
    for (var line : sum.path("lines")) {
      lines.add(
          "%-10s %-26s %s"
              .formatted(
                  line.path("worker").asString(),
                  line.path("name").asString(),
                  line.path("event").asString()));
      parts(line.path("losses"), "− ", lines);
      parts(line.path("gains"), "+ ", lines);
      if (line.path("losses").isEmpty() && line.path("gains").isEmpty()) {
        var next = Output.moment(line.path("next"), zone);
        lines.add(
            " ".repeat(11) + "nothing now" + (next.isEmpty() ? "" : ", something on " + next));
      }
    }
    if (result.path("rejected").asInt() > 0) {
      lines.add("");
      lines.add("rejected");
      for (var reject : result.path("rejects")) {
        lines.add(
            "  line %s %s %s: %s; expected %s"
                .formatted(
                    reject.path("line").asString(),
                    reject.path("worker").asString(),
                    reject.path("column").asString(),
                    reject.path("found").asString(),
                    reject.path("expected").asString()));
      }
    }
    return lines;
  }

  private static String counts(JsonNode node) {
    var text =
        node.properties().stream()
            .map(each -> each.getValue().asString() + " " + each.getKey())
            .collect(Collectors.joining(", "));
    return text.isEmpty() ? "none" : text;
  }

  private static void parts(JsonNode items, String sign, List<String> lines) {
    items.forEach(item -> lines.add(" ".repeat(11) + sign + item.asString()));
  }

  @Command(
      name = "collect",
      mixinStandardHelpOptions = true,
      description =
          "Begins to load what a source has now: the rows of its view, or what lies in its drop directory.")
  void collect(@Parameters(paramLabel = "SOURCE") String source, @Mixin Output output) {
    output.noCsv();
    var collected = client.post("/api/v1/sources/" + Client.encoded(source) + "/collect", null);
    var lines = new ArrayList<String>();
    collected
        .path("begun")
        .forEach(each ->
            lines.add(
                "%s is being loaded; follow it with: glenmoor work follow %s"
                    .formatted(each.path("fileName").asString(), each.path("work").asString())));
    output.one(collected, lines.isEmpty() ? List.of("There is nothing new.") : lines);
  }

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the feeds, newest first.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, "/api/v1/feeds");
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("FEED", "id"),
            new Column("STARTED", row -> Output.moment(row.path("startedAt"), zone)),
            Column.of("SOURCE", "source"),
            Column.of("FILE", "fileName"),
            Column.of("STATE", "state"),
            Column.of("SENTENCE", "sentence")),
        "No feed was loaded yet. Load one with: glenmoor feeds load FILE");
  }

  @Command(name = "show", mixinStandardHelpOptions = true, description = "Shows one feed.")
  void show(@Parameters(paramLabel = "FEED") long feed, @Mixin Output output) {
    var shown = client.get("/api/v1/feeds/" + feed);
    output.one(
        shown,
        List.of(
            "Feed %d — %s, %s"
                .formatted(feed, shown.path("fileName").asString(), shown.path("state").asString()),
            shown.path("sentence").asString(),
            "events: " + counts(shown.path("events")),
            "loaded by %s, %s"
                .formatted(
                    shown.path("loadedBy").asString(),
                    Output.moment(shown.path("startedAt"), zone()))));
  }

  @Command(
      name = "rejects",
      mixinStandardHelpOptions = true,
      description =
          "Lists the rows of a feed that were rejected, with what was found and expected.")
  void rejects(
      @Parameters(paramLabel = "FEED") long feed,
      @Option(names = "--to", paramLabel = "FILE", description = "Write them as CSV into a file")
          @Nullable Path to,
      @Mixin Paging paging,
      @Mixin Output output) {
    if (to != null) {
      try {
        Files.writeString(to, client.text("/api/v1/feeds/" + feed + "/rejects.csv"));
        output.line("Written to " + to);
      } catch (IOException failed) {
        throw new Client.Failed("The file %s cannot be written.".formatted(to));
      }
      return;
    }
    var page = paging.of(client, "/api/v1/feeds/" + feed + "/rejects");
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("LINE", "line"),
            Column.of("WORKER", "worker"),
            Column.of("COLUMN", "columnName"),
            Column.of("FOUND", "found"),
            Column.of("EXPECTED", "expected")),
        "No row of this feed was rejected.");
  }
}
