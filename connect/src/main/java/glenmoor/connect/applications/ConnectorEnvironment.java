package glenmoor.connect.applications;

import glenmoor.connect.applications.Settings.BadSetting;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Function;

/**
 * What definitions of applications may use of the place where the service runs: names that were
 * declared for them, files in one directory of secrets, and addresses that may be reached.
 *
 * @param names the values of declared names
 * @param secrets the one directory from which secrets are read
 * @param reachable where applications may be
 * @param exchange where the directories are through which files are exchanged; empty for nowhere
 */
public record ConnectorEnvironment(
    Function<String, Optional<String>> names,
    Path secrets,
    Reachable reachable,
    Optional<Path> exchange) {
  private static final int LONGEST_SECRET = 4_096;

  /**
   * The secret in a file of the directory of secrets: one line, without its end.
   *
   * @param file its name, or its whole path
   * @throws BadSetting if it lies elsewhere, cannot be read or is no one line
   */
  String secret(String file) {
    try {
      var directory = secrets.toRealPath();
      var path = directory.resolve(file).toRealPath();
      if (!path.startsWith(directory)) {
        throw new BadSetting(
            "The file %s lies outside %s, the directory of secrets.".formatted(file, secrets));
      }
      if (Files.size(path) > LONGEST_SECRET) {
        throw new BadSetting("The file %s is too long for a secret.".formatted(file));
      }
      var text = Files.readString(path).replaceFirst("\\R\\z", "");
      if (text.isBlank() || text.lines().count() != 1) {
        throw new BadSetting("The file %s must hold one line: the secret.".formatted(file));
      }
      return text.strip();
    } catch (IOException unreadable) {
      throw new BadSetting(
          "There is no file %s in %s, the directory of secrets, that can be read."
              .formatted(file, secrets));
    }
  }
}
