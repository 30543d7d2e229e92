package glenmoor.cli.definitions;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor define}. */
@Command(
    name = "define",
    description =
        "Definitions as files: facts, sources, applications, entitlements, packages, birthrights.")
public final class DefineCommand extends Group {

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
      @Option(names = "--replace", description = "As if all else were dropped") boolean replace) {
    var outcome = client.post("/api/v1/definitions/forecast", body(paths, replace));
    System.out.println("Nothing is wrong. " + summary(outcome));
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
    show(client.post("/api/v1/definitions/forecast", body(paths, replace)), output, "would");
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
      @Mixin Output output) {
    show(client.post("/api/v1/definitions", body(paths, replace)), output, "will");
  }

  private static void show(JsonNode outcome, Output output, String tense) {
    output.list(
        outcome,
        outcome.path("differences"),
        List.of(Column.of("CHANGE", "change"), Column.of("KIND", "kind"), Column.of("KEY", "key")),
        "Nothing is different.");
    if (output.isTable()) {
      var forecast = outcome.path("forecast");
      output.line(
          "%s; %s people %s change, by %s operations."
              .formatted(
                  summary(outcome),
                  forecast.path("people").asString(),
                  tense,
                  forecast.path("operations").asString()));
    }
  }

  private static String summary(JsonNode outcome) {
    return "%d differ, %s are as before"
        .formatted(outcome.path("differences").size(), outcome.path("unchanged").asString());
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
      try {
        if (Files.isDirectory(path)) {
          try (var inside = Files.list(path)) {
            for (var file :
                inside.filter(each -> each.toString().endsWith(".yaml")).sorted().toList()) {
              files.add(file(file));
            }
          }
        } else {
          files.add(file(path));
        }
      } catch (IOException unreadable) {
        throw new Client.Failed("%s cannot be read.".formatted(path));
      }
    }
    return Client.object("files", files, "replace", replace);
  }

  private static Map<String, Object> file(Path file) throws IOException {
    return Client.object(
        "name", String.valueOf(file.getFileName()), "text", Files.readString(file));
  }
}
