package glenmoor.cli.definitions;

import glenmoor.cli.Client;
import glenmoor.cli.CsvFile;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code glenmoor define}. */
@Command(
    name = "define",
    description =
        "Definitions as files: facts, sources, applications, entitlements, packages, birthrights.")
public final class DefineCommand extends Group {
  private static final int MOST_LINES = 60;

  @Command(
      name = "check",
      mixinStandardHelpOptions = true,
      description = "Checks files and says everything that is wrong, with the line.")
  void check(
      @Parameters(
              arity = "1..*",
              paramLabel = "FILE",
              description = "YAML files, or directories of them")
          List<Path> paths,
      @Option(names = "--replace", description = "As if all else were dropped") boolean replace,
      @Option(
              names = "--online",
              description = "Ask each application for what must be there beforehand")
          boolean online,
      @Mixin Output output) {
    output.noCsv();
    var body = body(paths, replace);
    body.put("online", online);
    var outcome = client.await(client.post("/api/v1/definitions/forecast", body), output);
    var lines = new ArrayList<String>();
    outcome.path("warnings").forEach(each -> lines.add("! " + each.asString()));
    outcome.path("missing").forEach(each -> lines.add("! " + each.asString()));
    lines.add(
        (lines.isEmpty()
                ? "Nothing is wrong. "
                : "The files can be loaded; look at what is said above first. ")
            + summary(outcome)
            + ".");
    output.one(outcome, lines);
    if (lines.size() > 1) {
      throw new Client.Failed("Not everything is as it should be.");
    }
  }

  @Command(
      name = "try",
      mixinStandardHelpOptions = true,
      description = "Shows how the accounts of people would be called, before anything is loaded.",
      footer = {
        "",
        "Example: glenmoor define try --fact given=Юлия --fact family=Щукина",
        "         glenmoor define try --people people.csv new-definitions/"
      })
  void attempt(
      @Parameters(
              arity = "0..*",
              paramLabel = "FILE",
              description = "Definitions to try; without any, those in force")
          @Nullable List<Path> paths,
      @Option(
              names = "--fact",
              paramLabel = "FACT=VALUE",
              description = "A fact of the one person to try; may be given again")
          @Nullable Map<String, String> facts,
      @Option(
              names = "--people",
              paramLabel = "FILE",
              description = "A CSV file of people to try; its heading names facts, and worker")
          @Nullable Path people,
      @Mixin Output output) {
    var tried = new ArrayList<Map<String, String>>();
    if (facts != null) {
      tried.add(facts);
    }
    if (people != null) {
      tried.addAll(people(people));
    }
    if (tried.isEmpty()) {
      throw wrong("Say whom to try: --fact given=Una --fact family=Kerrow, or --people FILE.");
    }
    var body = Client.object("people", tried);
    if (paths != null) {
      body.put("files", body(paths, false).get("files"));
    }
    var named = client.post("/api/v1/definitions/names", body);
    var columns = new ArrayList<Column>();
    columns.add(Column.of("WORKER", "worker"));
    columns.add(Column.of("NAME", "name"));
    named
        .path(0)
        .path("accounts")
        .propertyNames()
        .forEach(application ->
            columns.add(
                Column.of(application.toUpperCase(Locale.ROOT), "accounts/" + application)));
    output.list(named, named, columns, "Nobody was given to try.");
  }

  private static List<Map<String, String>> people(Path file) {
    var people = new ArrayList<Map<String, String>>();
    for (var row : CsvFile.rows(file)) {
      var facts = new LinkedHashMap<>(row.cells());
      facts.values().removeIf(String::isBlank);
      people.add(facts);
    }
    return people;
  }

  @Command(
      name = "diff",
      mixinStandardHelpOptions = true,
      description = "Shows what loading files would change, and what that would do.")
  void diff(
      @Parameters(
              arity = "1..*",
              paramLabel = "FILE",
              description = "YAML files, or directories of them")
          List<Path> paths,
      @Option(names = "--replace", description = "Drop what is not in the files") boolean replace,
      @Mixin Output output) {
    var accepted = client.post("/api/v1/definitions/forecast", body(paths, replace));
    show(client.await(accepted, output), output, "would");
  }

  @Command(
      name = "load",
      mixinStandardHelpOptions = true,
      description = "Loads files: all of them or, if anything is wrong, none.")
  void load(
      @Parameters(
              arity = "1..*",
              paramLabel = "FILE",
              description = "YAML files, or directories of them")
          List<Path> paths,
      @Option(names = "--replace", description = "Drop what is not in the files") boolean replace,
      @Option(
              names = "--why",
              description = "Why; it is kept, and needed where a package becomes another one")
          @Nullable String why,
      @Mixin Output output) {
    var body = body(paths, replace);
    body.put("why", why == null ? "" : why);
    var accepted = client.post("/api/v1/definitions", body);
    show(client.await(accepted, output), output, "will");
  }

  private void show(JsonNode outcome, Output output, String tense) {
    var held = outcome.path("held").asString("");
    output.list(
        outcome,
        outcome.path("differences"),
        List.of(Column.of("CHANGE", "change"), Column.of("KIND", "kind"), Column.of("KEY", "key")),
        "Nothing is different.");
    if (output.isTable()) {
      consequences(outcome.path("forecast"), held.isEmpty() ? tense : "would", zone())
          .forEach(output::line);
      outcome.path("warnings").forEach(each -> output.line("! " + each.asString()));
      output.line(summary(outcome) + ".");
    }
    if (!held.isEmpty()) {
      throw new Client.Failed(
          "A brake holds these definitions, and nothing was changed. See what they would do with: glenmoor held show %s"
              .formatted(held));
    }
  }

  /** Who gains and loses what, and what is coming on which day. */
  private static List<String> consequences(JsonNode forecast, String tense, String zone) {
    var lines = new ArrayList<String>();
    lines.add(
        "%s %s change, by %s; %s something."
            .formatted(
                Output.count(forecast.path("people").asLong(), "person", "people"),
                tense,
                Output.count(forecast.path("operations").asLong(), "operation", "operations"),
                Output.count(forecast.path("losing").asLong(), "person loses", "people lose")));
    var shown = 0;
    for (var line : forecast.path("lines")) {
      if (line.path("losses").isEmpty() && line.path("gains").isEmpty()) {
        continue;
      }
      if (shown++ == MOST_LINES) {
        lines.add("  … only %d are shown; --output json gives all".formatted(MOST_LINES));
        break;
      }
      lines.add(
          "  %-10s %s".formatted(line.path("worker").asString(), line.path("name").asString()));
      line.path("losses").forEach(each -> lines.add(" ".repeat(13) + "− " + each.asString()));
      line.path("gains").forEach(each -> lines.add(" ".repeat(13) + "+ " + each.asString()));
    }
    forecast
        .path("coming")
        .properties()
        .forEach(each ->
            lines.add(
                "  on %s: grants of %s begin or end"
                    .formatted(
                        Output.moment(JsonMapper.shared().valueToTree(each.getKey()), zone),
                        Output.count(each.getValue().asLong(), "person", "people"))));
    return lines;
  }

  private static String summary(JsonNode outcome) {
    return "%d different, %s as before"
        .formatted(outcome.path("differences").size(), outcome.path("unchanged").asString());
  }

  @Command(
      name = "versions",
      mixinStandardHelpOptions = true,
      description = {
        "Lists all that a definition has been, the last first, and why it became so.",
        "With --number it writes one of them."
      },
      footer = {"", "Example: glenmoor define versions package ticket-desk --number 2"})
  void versions(
      @Parameters(paramLabel = "KIND") String kind,
      @Parameters(paramLabel = "KEY") String key,
      @Option(names = "--number", description = "Write this one, 1 being the last")
          @Nullable Integer number,
      @Mixin Output output) {
    var versions =
        client.get(
            "/api/v1/definitions/%s/%s/versions"
                .formatted(Client.encoded(kind), Client.encoded(key)));
    if (number != null) {
      if (number < 1 || number > versions.size()) {
        throw new Client.Failed("There are %d versions of it.".formatted(versions.size()));
      }
      System.out.print(versions.path(number - 1).path("text").asString());
      return;
    }
    var zone = zone();
    output.list(
        versions,
        versions,
        List.of(
            new Column("SINCE", row -> Output.moment(row.path("since"), zone)),
            Column.of("BY", "by"),
            Column.of("WHY", "why")),
        "There is none.");
  }

  @Command(
      name = "dump",
      mixinStandardHelpOptions = true,
      description = "Writes all definitions in force as one file.")
  void dump() {
    System.out.print(client.text("/api/v1/definitions"));
  }

  private static Map<String, Object> body(List<Path> paths, boolean replace) {
    var files = new ArrayList<Map<String, Object>>();
    for (var path : paths) {
      if (!Files.exists(path)) {
        throw Client.Failed.wrongWords("There is no file or directory %s.".formatted(path));
      }
      files.addAll(Files.isDirectory(path) ? directory(path) : List.of(file(path)));
    }
    return Client.object("files", files, "replace", replace);
  }

  private static List<Map<String, Object>> directory(Path directory) {
    try (var inside = Files.list(directory)) {
      var found =
          inside
              .filter(each -> each.toString().endsWith(".yaml") || each.toString().endsWith(".yml"))
              .sorted()
              .map(DefineCommand::file)
              .toList();
      if (found.isEmpty()) {
        throw Client.Failed.wrongWords(
            "The directory %s has no file that ends in .yaml.".formatted(directory));
      }
      return found;
    } catch (IOException unreadable) {
      throw Client.Failed.wrongWords("The directory %s cannot be read.".formatted(directory));
    }
  }

  private static Map<String, Object> file(Path file) {
    try {
      return Client.object(
          "name", String.valueOf(file.getFileName()), "text", Files.readString(file));
    } catch (CharacterCodingException notUtf8) {
      throw Client.Failed.wrongWords(
          "%s is not UTF-8; save it as UTF-8 and try again.".formatted(file));
    } catch (IOException unreadable) {
      throw Client.Failed.wrongWords("%s cannot be read.".formatted(file));
    }
  }
}
