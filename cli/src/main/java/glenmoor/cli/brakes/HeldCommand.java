package glenmoor.cli.brakes;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor held}. */
@Command(
    name = "held",
    description = "Changes that a brake holds until somebody else releases or drops them.")
public final class HeldCommand extends Group {
  private static final int MOST_LINES = 40;

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists held changes, newest first.")
  void list(
      @Option(names = "--state", description = "held, released or dropped; all without")
          @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/held-changes", "state", state);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("CHANGE", "id"),
            Column.of("WHAT", "what"),
            Column.of("STATE", "state"),
            Column.of("BROUGHT BY", "broughtBy"),
            new Column("AT", row -> Output.moment(row.path("broughtAt"), zone)),
            Column.of("SENTENCE", "sentence")),
        "No brake holds anything.");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a held change with what it would do.")
  void show(@Parameters(paramLabel = "CHANGE") long id, @Mixin Output output) {
    output.noCsv();
    var shown = client.get("/api/v1/held-changes/" + id);
    output.one(shown, lines(shown, zone()));
  }

  private static List<String> lines(JsonNode shown, String zone) {
    var lines = new ArrayList<String>();
    lines.add(
        "Held change %s — %s, %s"
            .formatted(
                shown.path("id").asString(),
                shown.path("what").asString(),
                shown.path("state").asString()));
    lines.add(shown.path("sentence").asString());
    lines.add(
        "brought by %s, %s"
            .formatted(
                shown.path("broughtBy").asString(), Output.moment(shown.path("broughtAt"), zone)));
    if (!shown.path("decidedBy").asString("").isEmpty()) {
      lines.add(
          "%s by %s, %s: %s"
              .formatted(
                  shown.path("state").asString(),
                  shown.path("decidedBy").asString(),
                  Output.moment(shown.path("decidedAt"), zone),
                  shown.path("note").asString()));
    }
    var forecast = shown.path("forecast");
    var sum = forecast.has("sum") ? forecast.path("sum") : forecast;
    var people = sum.path("lines");
    if (!people.isEmpty()) {
      lines.add("");
      lines.add(
          Output.count(sum.path("people").asLong(), "person changes", "people change")
              + ", by "
              + Output.count(sum.path("operations").asLong(), "operation", "operations")
              + "; "
              + Output.count(sum.path("losing").asLong(), "person loses", "people lose")
              + " access:");
      for (var i = 0; i < Math.min(MOST_LINES, people.size()); i++) {
        var line = people.get(i);
        lines.add(
            "  %-10s %-26s %-12s %s"
                .formatted(
                    line.path("worker").asString(),
                    line.path("name").asString(),
                    line.path("event").asString(""),
                    changes(line)));
      }
      if (people.size() > MOST_LINES) {
        lines.add(
            "  … %d of %s shown; --output json gives all that was kept"
                .formatted(MOST_LINES, sum.path("people").asString()));
      }
    }
    if (forecast.has("playbook")) {
      lines.addAll(runs(forecast));
    }
    return lines;
  }

  /** For whom a playbook would be played. */
  private static List<String> runs(JsonNode forecast) {
    var lines = new ArrayList<String>();
    lines.add("");
    lines.add(
        "%s, %s each, for %s:"
            .formatted(
                forecast.path("name").asString(),
                Output.count(forecast.path("steps").asLong(), "step", "steps"),
                Output.count(forecast.path("runs").asLong(), "person", "people")));
    var people = forecast.path("people");
    for (var i = 0; i < Math.min(MOST_LINES, people.size()); i++) {
      var person = people.get(i);
      lines.add(
          "  %-10s %-26s about %s"
              .formatted(
                  person.path("worker").asString(),
                  person.path("name").asString(),
                  person.path("day").asString()));
    }
    if (people.size() > MOST_LINES) {
      lines.add("  … %d of %d shown".formatted(MOST_LINES, people.size()));
    }
    return lines;
  }

  private static String changes(JsonNode line) {
    var parts = new ArrayList<String>();
    line.path("losses").forEach(each -> parts.add("− " + each.asString()));
    line.path("gains").forEach(each -> parts.add("+ " + each.asString()));
    return String.join("  ", parts);
  }

  @Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Carries a held change out, as things are now. Not by whoever brought it.")
  void release(
      @Parameters(paramLabel = "CHANGE") long id,
      @Option(names = "--reason", required = true, description = "Why it is right") String reason,
      @Mixin Output output) {
    output.noCsv();
    var accepted =
        client.post("/api/v1/held-changes/" + id + "/release", Client.object("note", reason));
    var result = client.await(accepted, output);
    var again = result.path("held").asString("");
    output.one(
        result,
        List.of(
            again.isEmpty()
                ? "Carried out. " + result.path("sentence").asString("")
                : "It comes to more by now than was held, so it is held again as change %s."
                    .formatted(again)));
    if (!again.isEmpty()) {
      throw new Client.Failed("Nothing was changed.");
    }
  }

  @Command(
      name = "drop",
      mixinStandardHelpOptions = true,
      description = "Forgets a held change: nothing of it is carried out.")
  void drop(
      @Parameters(paramLabel = "CHANGE") long id,
      @Option(names = "--reason", required = true, description = "Why it is wrong") String reason,
      @Mixin Output output) {
    output.noCsv();
    var dropped =
        client.post("/api/v1/held-changes/" + id + "/drop", Client.object("note", reason));
    output.one(dropped, List.of("Dropped: " + dropped.path("what").asString()));
  }

  @Command(
      name = "try",
      mixinStandardHelpOptions = true,
      description = {
        "Says which feeds of the last year other limits of the brake on feeds would have held.",
        "Nothing is changed; limits that are not said are as they are in force."
      },
      footer = {"", "Example: glenmoor held try --limit 'leavers=3 or 1 %'"})
  void tryLimits(
      @Option(
              names = "--limit",
              paramLabel = "MEASURE=LIMIT",
              description = "Such as 'leavers=3 or 1 %'")
          @Nullable Map<String, String> limits,
      @Mixin Output output) {
    var tried =
        client.post(
            "/api/v1/brakes/feeds/trial", Map.of("limits", limits == null ? Map.of() : limits));
    var zone = zone();
    var lines = new ArrayList<String>();
    lines.add(
        "Of %s of the last year%s, %s."
            .formatted(
                Output.count(tried.path("tried").asInt(), "feed", "feeds"),
                tried.path("more").asBoolean() ? " (there were more)" : "",
                Output.count(
                    tried.path("held").size(), "would have been held", "would have been held")));
    for (var feed : tried.path("held")) {
      lines.add(
          "  %s  %s%s"
              .formatted(
                  Output.moment(feed.path("startedAt"), zone),
                  feed.path("fileName").asString(),
                  feed.path("wasHeld").asBoolean() ? ", which was held" : ""));
      feed.path("sentences").forEach(each -> lines.add("      " + each.asString()));
    }
    output.one(tried, lines);
  }
}
