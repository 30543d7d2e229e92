package glenmoor.connect.applications;

import glenmoor.core.applications.Application;
import java.util.Set;

/** Makes the connector an application asks for. */
public final class Connectors {
  private Connectors() {}

  /**
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  public static Connector open(Application application, ConnectorEnvironment environment) {
    return switch (application.connector()) {
      case "ldap" ->
          new LdapConnector(
              application, settings(application, LdapConnector.SETTINGS, environment));
      case "scim" ->
          new ScimConnector(
              application, settings(application, ScimConnector.SETTINGS, environment));
      default ->
          throw new Settings.BadSetting("There is no connector " + application.connector() + ".");
    };
  }

  private static Settings settings(
      Application application, Set<String> known, ConnectorEnvironment environment) {
    return new Settings(application.key(), application.settings(), known, environment);
  }
}
