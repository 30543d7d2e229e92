package glenmoor.cli.conflicts;

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
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor conflicts}. */
@Command(
    name = "conflicts",
    description = "People who break conflict rules, and what becomes of that.")
public final class ConflictsCommand extends Group {
  private static final String PATH = "/api/v1/conflicts";

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists conflicts that are not over, the last found first.")
  void list(
      @Option(names = "--rule", description = "Of one rule only") @Nullable String rule,
      @Option(names = "--of", paramLabel = "WORKER", description = "Of one person only")
          @Nullable String worker,
      @Option(names = "--state", description = "open or exempt") @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var page = paging.of(client, PATH, "rule", rule, "worker", worker, "state", state);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("CONFLICT", "id"),
            Column.of("WORKER", "worker"),
            Column.of("PERSON", "person"),
            Column.of("RULE", "ruleName"),
            Column.of("STATE", "state"),
            new Column("SINCE", row -> Output.moment(row.path("since"), zone)),
            new Column("UNTIL", row -> Output.moment(row.path("exemptUntil"), zone))),
        "There is none.");
  }

  @Command(
      name = "matrix",
      mixinStandardHelpOptions = true,
      description = "Counts them by rule and by what groups people here.")
  void matrix(@Mixin Output output) {
    var matrix = client.get(PATH + "/matrix");
    output.list(
        matrix,
        matrix.path("cells"),
        List.of(
            Column.of("RULE", "rule"),
            Column.of("GROUP", "group"),
            Column.of("OPEN", "open"),
            Column.of("EXEMPT", "exempt")),
        "There is none.");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a conflict, with how each side came about.")
  void show(@Parameters(paramLabel = "CONFLICT") long id, @Mixin Output output) {
    var shown = client.get(PATH + "/" + id);
    var zone = zone();
    var conflict = shown.path("conflict");
    var said = new ArrayList<String>();
    said.add(
        "%s (%s): %s, since %s"
            .formatted(
                conflict.path("person").asString(),
                conflict.path("worker").asString(),
                conflict.path("ruleName").asString(),
                Output.moment(conflict.path("since"), zone)));
    said.add("  " + shown.path("risk").asString());
    if (conflict.path("state").asString().equals("exempt")) {
      said.add(
          "  allowed by %s until %s; instead: %s"
              .formatted(
                  shown.path("exemptBy").asString(),
                  Output.moment(conflict.path("exemptUntil"), zone),
                  shown.path("exemptControl").asString()));
    }
    for (var part : shown.path("parts")) {
      said.add(
          "  side %d: %s in %s (%s), since %s, last used %s"
              .formatted(
                  part.path("side").asInt(),
                  part.path("name").asString(),
                  part.path("application").asString(),
                  part.path("entitlement").asString(),
                  Output.moment(part.path("since"), zone),
                  part.path("lastUsed").isNull()
                      ? "nobody knows when"
                      : Output.moment(part.path("lastUsed"), zone)));
      for (var giving : part.path("giving")) {
        said.add(
            "    by %s: %s %s, from %s"
                .formatted(
                    giving.path("name").asString(),
                    giving.path("basis").asString(),
                    giving.path("by").asString(),
                    Output.moment(giving.path("from"), zone)));
      }
    }
    output.one(shown, said);
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = {
        "Ends everything that gives one right of a conflict.",
        "With --forecast it only says what would go."
      })
  void end(
      @Parameters(paramLabel = "CONFLICT") long id,
      @Parameters(paramLabel = "ENTITLEMENT") String entitlement,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Option(names = "--forecast", description = "Say what would go, and end nothing")
          boolean forecast,
      @Mixin Output output) {
    if (forecast) {
      var would =
          client.get(PATH + "/" + id + "/forecast" + Client.query("entitlement", entitlement));
      output.one(
          would,
          List.of(
              "These would end: "
                  + joined(
                      would.path("grants").valueStream().map(each -> each.asString()).toList()),
              "With these rights: "
                  + joined(
                      would.path("rights").valueStream().map(each -> each.asString()).toList())));
      return;
    }
    if (reason == null) {
      throw wrong("Say why: --reason; or --forecast to see what would go.");
    }
    client.post(
        PATH + "/" + id + "/end", Client.object("entitlement", entitlement, "reason", reason));
    output.line("It has ended.");
  }

  private static String joined(List<String> all) {
    return all.isEmpty() ? "nothing" : String.join(", ", all);
  }

  @Command(
      name = "exempt",
      mixinStandardHelpOptions = true,
      description =
          "Allows conflicts until the end of a day, with a control in the place of separation.")
  void exempt(
      @Parameters(arity = "1..*", paramLabel = "CONFLICT") List<String> conflicts,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Option(
              names = "--control",
              required = true,
              description = "What is done in the place of separating the duties")
          String control,
      @Option(names = "--until", paramLabel = "DAY", required = true, description = "The last day")
          String until,
      @Mixin Output output) {
    var settled =
        client.post(
            PATH + "/exempt",
            Map.of("conflicts", conflicts, "reason", reason, "control", control, "until", until));
    output.list(
        settled,
        settled,
        List.of(
            Column.of("CONFLICT", "id"),
            Column.of("DONE", "done"),
            Column.of("WHY NOT", "sentence")),
        "Nothing.");
    if (settled.valueStream().anyMatch(each -> !each.path("done").asBoolean())) {
      throw new Client.Failed("Not all of them could be allowed.");
    }
  }

  @Command(
      name = "scan",
      mixinStandardHelpOptions = true,
      description = "Looks for conflicts now, instead of when something changes.")
  void scan(@Mixin Output output) {
    client.post(PATH + "/scan", Map.of());
    output.line("Looked.");
  }

  @Command(
      name = "try",
      mixinStandardHelpOptions = true,
      description =
          "Says for how many a rule that is being written would be broken; nothing is kept.")
  void attempt(
      @Parameters(paramLabel = "RULE") String key,
      @Parameters(paramLabel = "FILE", description = "A YAML file that defines it") Path file,
      @Mixin Output output) {
    String text;
    try {
      text = Files.readString(file);
    } catch (IOException unreadable) {
      throw Client.Failed.wrongWords("%s cannot be read.".formatted(file));
    }
    var tried =
        client.post(
            "/api/v1/conflict-rules/" + Client.encoded(key) + "/draft",
            Client.object("text", text));
    output.list(
        tried,
        tried.path("cells"),
        List.of(Column.of("GROUP", "group"), Column.of("PEOPLE", "open")),
        "Nobody would break it.");
  }
}
