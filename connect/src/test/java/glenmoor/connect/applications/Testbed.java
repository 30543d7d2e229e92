package glenmoor.connect.applications;

import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.applications.Application.LifecyclePolicy;
import glenmoor.core.applications.Application.WhileOnLeave;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.conditions.Expressions.Mapping;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/** Applications for connector tests, with the real directory that the test script started. */
public final class Testbed {
  private Testbed() {}

  static String environment(String name) {
    var value = System.getenv(name);
    if (value == null) {
      throw new IllegalStateException(
          name + " is not set: run the tests with ./glenmoor test, which starts what they need.");
    }
    return value;
  }

  public static Application application(
      String connector, Map<String, Object> settings, String... attributes) {
    return application(connector, settings, 4, attributes);
  }

  static Application application(
      String connector, Map<String, Object> settings, int parallel, String... attributes) {
    var expressions = new Expressions(List.of());
    var mapped = new TreeMap<String, Mapping>();
    for (var attribute : attributes) {
      mapped.put(attribute, expressions.mapping("person.name"));
    }
    return new Application(
        "testbed",
        "Testbed",
        connector,
        settings,
        expressions.mapping("person.worker"),
        true,
        200,
        365,
        Set.of(),
        Optional.empty(),
        mapped,
        new LifecyclePolicy(0, WhileOnLeave.DISABLE, 30, AfterHold.DELETE),
        List.of(),
        parallel,
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  static Map<String, Object> directorySettings() {
    return new TreeMap<>(
        Map.of(
            "url", "ldap://127.0.0.1:" + environment("GLENMOOR_TEST_DIRECTORY_PORT"),
            "bind-dn", "cn=glenmoor,dc=skerryline,dc=example",
            "password-file", environment("GLENMOOR_TEST_DIRECTORY_PASSWORD_FILE"),
            "people-base", "ou=people,dc=skerryline,dc=example",
            "group-base", "ou=groups,dc=skerryline,dc=example"));
  }

  /** An account of which nobody else has anything. */
  static Target target(
      String worker, String name, String container, String nativeId, boolean tried) {
    return new Target(
        worker, name, name, container, nativeId, tried, false, null, Connector.Owners.NOBODY);
  }

  static Connector open(Application application) {
    return Connectors.open(
        application,
        new ConnectorEnvironment(
            name -> Optional.ofNullable(System.getenv(name)),
            Path.of("/"),
            Reachable.of(""),
            Optional.empty()));
  }
}
