package glenmoor.acceptance;

import java.io.File;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A demo that runs, driven through the script at the root: what it is told, and what it says.
 *
 * @param root the checkout
 * @param home where this demo keeps its data
 */
public record Running(Path root, Path home) {

  /** What a command came to. */
  public record Said(int exit, String out, String err) {
    public JsonNode json() {
      return JsonMapper.shared().readTree(out);
    }
  }

  /** Runs {@code ./glenmoor} with these words, and waits. */
  public Said glenmoor(String... words) {
    var command = new ArrayList<>(List.of(root.resolve("glenmoor").toString()));
    command.addAll(List.of(words));
    return run(command);
  }

  /** Runs any command in the checkout, and waits. */
  public Said run(List<String> command) {
    try {
      var err = File.createTempFile("glenmoor", ".err");
      var out = File.createTempFile("glenmoor", ".out");
      var builder =
          new ProcessBuilder(command)
              .directory(root.toFile())
              .redirectOutput(out)
              .redirectError(err);
      builder.environment().put("GLENMOOR_HOME", home.toString());
      builder.environment().remove("COLUMNS");
      var exit = builder.start().waitFor();
      return new Said(exit, taken(out), taken(err));
    } catch (IOException failed) {
      throw new IllegalStateException(failed);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(stopped);
    }
  }

  private static String taken(File file) throws IOException {
    var text = Files.readString(file.toPath(), StandardCharsets.UTF_8);
    Files.delete(file.toPath());
    return text;
  }

  /** What {@code ./glenmoor status} tells a script. */
  public JsonNode status() {
    return glenmoor("status", "--output", "json").json();
  }

  /** What the script said last, and of which ports and processes. */
  private record Told(String of, JsonNode status) {}

  private static final Map<Path, Told> TOLD = new ConcurrentHashMap<>();

  /**
   * The same, asked anew only when a port or a process became another one: addresses are wanted all
   * the time, and the script takes as long as ten calls of the service.
   */
  public JsonNode places() {
    var now = portsAndProcesses();
    return TOLD.compute(
            home,
            (key, told) -> told != null && told.of().equals(now) ? told : new Told(now, status()))
        .status();
  }

  private String portsAndProcesses() {
    var text = new StringBuilder();
    try (var ports = Files.newDirectoryStream(home.resolve("ports"));
        var processes = Files.newDirectoryStream(home, "*.pid")) {
      for (var files : List.of(ports, processes)) {
        for (var file : files) {
          text.append(file).append(Files.readString(file));
        }
      }
      return text.toString();
    } catch (IOException unreadable) {
      throw new UncheckedIOException(unreadable);
    }
  }

  /** Asks the database itself, as its root; gives the one value there is. */
  public String sql(String statement) {
    var at = places().path("database");
    var said =
        run(
            List.of(
                "mariadb",
                "--no-defaults",
                "--socket=" + at.path("socket").asString(),
                "-u",
                "root",
                "--skip-column-names",
                "--database=" + at.path("name").asString("glenmoor"),
                "-e",
                statement));
    if (said.exit() != 0) {
      throw new IllegalStateException(said.err());
    }
    return said.out().strip();
  }

  public String url() {
    return places().path("service").path("url").asString();
  }

  /** The password of somebody who can sign in. */
  public String password(String login) {
    try {
      return Files.readString(home.resolve("secrets/person-" + login)).strip();
    } catch (IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }

  /** A file of the scenario. */
  public Path scenario(String path) {
    return root.resolve("standins/scenario").resolve(path);
  }
}
