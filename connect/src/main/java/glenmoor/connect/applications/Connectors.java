package glenmoor.connect.applications;

import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;

/** Makes the connector an application asks for. */
public final class Connectors {
  private Connectors() {}

  /**
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  public static Connector open(Application application, ConnectorEnvironment environment) {
    var kind =
        ConnectorKind.ofWord(application.connector())
            .filter(OpenableKind.class::isInstance)
            .map(OpenableKind.class::cast)
            .orElseThrow(() ->
                new Settings.BadSetting("There is no connector " + application.connector() + "."));
    return kind.open(
        application,
        new Settings(application.key(), application.settings(), kind.settings(), environment));
  }
}
