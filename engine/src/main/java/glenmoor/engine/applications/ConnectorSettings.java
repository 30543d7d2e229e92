package glenmoor.engine.applications;

import glenmoor.connect.applications.ConnectorEnvironment;
import glenmoor.connect.applications.Reachable;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Function;

/**
 * What definitions of applications may use of the place where the service runs.
 *
 * @param names the values of names that were declared for them
 * @param secrets the one directory from which secrets are read
 * @param reachable where applications may be, with commas; empty for what is encrypted anywhere and
 *     what is not on this machine
 * @param exchange where the directories are through which files are exchanged; empty for nowhere
 */
public record ConnectorSettings(
    Function<String, Optional<String>> names,
    Path secrets,
    String reachable,
    Optional<Path> exchange) {
  /**
   * @throws IllegalArgumentException with a sentence, if an address in {@code reachable} is none
   */
  public ConnectorSettings {
    Reachable.of(reachable);
  }

  /** The same, as connectors take it. */
  public ConnectorEnvironment environment() {
    return new ConnectorEnvironment(names, secrets, Reachable.of(reachable), exchange);
  }
}
