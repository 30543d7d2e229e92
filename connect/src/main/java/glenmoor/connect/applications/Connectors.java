package glenmoor.connect.applications;

import glenmoor.core.applications.Application;
import java.util.Optional;
import java.util.function.Function;

/** Makes the connector an application asks for. */
public final class Connectors {
  private Connectors() {}

  /**
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  public static Connector open(
      Application application, Function<String, Optional<String>> environment) {
    var settings = new Settings(application.key(), application.settings(), environment);
    return switch (application.connector()) {
      case "ldap" -> new LdapConnector(application, settings);
      case "scim" -> new ScimConnector(application, settings);
      default ->
          throw new Settings.BadSetting("There is no connector " + application.connector() + ".");
    };
  }
}
