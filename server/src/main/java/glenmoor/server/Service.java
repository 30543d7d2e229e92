package glenmoor.server;

import glenmoor.engine.Upgrade;
import java.io.IOException;
import java.io.PrintStream;
import java.net.BindException;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.Duration;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.web.server.PortInUseException;
import org.springframework.context.ConfigurableApplicationContext;

/** The service, from its settings to its doors. */
@SpringBootApplication
public class Service {
  private static final Duration BETWEEN_TRIES = Duration.ofSeconds(2);
  private static final int ACCESS_DENIED = 1045;
  private static final int NO_ACCESS_TO_DATABASE = 1044;
  private static final int NO_DATABASE = 1049;

  public static void main(String[] arguments) {
    try {
      var settings = ServiceSettings.read(System.getenv());
      start(settings, System.err);
    } catch (ServiceSettings.Bad bad) {
      System.err.println("Glenmoor cannot start with these settings:");
      System.err.println(String.valueOf(bad.getMessage()).indent(2).stripTrailing());
      System.exit(2);
    } catch (RuntimeException failed) {
      System.err.println("Glenmoor cannot start. " + sentence(failed));
      System.exit(1);
    }
  }

  /**
   * Starts the service, waiting for the database if it is away.
   *
   * @param told where to say that it waits
   */
  public static ConfigurableApplicationContext start(ServiceSettings settings, PrintStream told) {
    portIsFree(settings, Setting.GLENMOOR_ADDRESS, Setting.GLENMOOR_PORT);
    portIsFree(settings, Setting.GLENMOOR_MANAGEMENT_ADDRESS, Setting.GLENMOOR_MANAGEMENT_PORT);
    waitForDatabase(settings, told);
    var application = new SpringApplication(Service.class);
    application.setDefaultProperties(settings.properties());
    application.addInitializers(
        context -> context.getBeanFactory().registerSingleton("settings", settings));
    return application.run();
  }

  /** A second service on the same port is a mistake: better said before anything is done. */
  private static void portIsFree(ServiceSettings settings, Setting address, Setting setting) {
    var port = Integer.parseInt(settings.get(setting));
    try (var door = new ServerSocket()) {
      door.bind(new InetSocketAddress(settings.get(address), port));
    } catch (BindException taken) {
      throw new PortInUseException(port, taken);
    } catch (IOException unclear) {
      // Whatever it is, the server itself finds it out.
    }
  }

  private static void waitForDatabase(ServiceSettings settings, PrintStream told) {
    var said = "";
    while (true) {
      try (var connection =
          DriverManager.getConnection(
              settings.databaseUrl(),
              settings.get(Setting.GLENMOOR_DATABASE_USER),
              settings.secret(Setting.GLENMOOR_DATABASE_PASSWORD_FILE))) {
        if (connection.isValid(1)) {
          takesBulk(connection);
          canBeMigrated(connection);
          return;
        }
      } catch (SQLException away) {
        refuseForGood(settings, away);
        var sentence =
            "The database at %s:%s does not answer yet; waiting for it. (%s)"
                .formatted(
                    settings.get(Setting.GLENMOOR_DATABASE_HOST),
                    settings.get(Setting.GLENMOOR_DATABASE_PORT),
                    away.getMessage());
        if (!sentence.equals(said)) {
          told.println(sentence);
          said = sentence;
        }
      }
      pause();
    }
  }

  /** Rows in bulk come by LOAD DATA LOCAL: better to know at the start than at the first feed. */
  private static void takesBulk(Connection connection) throws SQLException {
    try (var statement = connection.createStatement();
        var result = statement.executeQuery("select @@global.local_infile")) {
      result.next();
      if (!result.getBoolean(1)) {
        throw new IllegalStateException(
            "MariaDB does not take LOAD DATA LOCAL, by which rows come in bulk. Allow it: set global local_infile = 1; and local_infile = 1 below [mysqld] in its settings.");
      }
    }
  }

  /**
   * A migration that fails half-way cannot be taken back, so what would let it fail is said before.
   */
  private static void canBeMigrated(Connection connection) throws SQLException {
    var hindrances = Upgrade.hindrances(connection);
    if (!hindrances.isEmpty()) {
      throw new IllegalStateException(
          "The records of an earlier version have to be mended first, and nothing was changed: "
              + String.join(" ", hindrances));
    }
  }

  private static void refuseForGood(ServiceSettings settings, SQLException away) {
    var user = settings.get(Setting.GLENMOOR_DATABASE_USER);
    var name = settings.get(Setting.GLENMOOR_DATABASE_NAME);
    switch (away.getErrorCode()) {
      case ACCESS_DENIED ->
          throw new IllegalStateException(
              "MariaDB refuses the user %s: the password is wrong, or the user does not exist. Check GLENMOOR_DATABASE_USER and the file that GLENMOOR_DATABASE_PASSWORD_FILE names."
                  .formatted(user));
      case NO_ACCESS_TO_DATABASE ->
          throw new IllegalStateException(
              "MariaDB does not let the user %s into the database %s. Grant it: grant all on %s.* to %s."
                  .formatted(user, name, name, user));
      case NO_DATABASE ->
          throw new IllegalStateException(
              "MariaDB has no database %s. Make it: create database %s; or check GLENMOOR_DATABASE_NAME."
                  .formatted(name, name));
      default -> {}
    }
  }

  private static void pause() {
    try {
      Thread.sleep(BETWEEN_TRIES);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("Stopped while waiting for the database", stopped);
    }
  }

  /** The sentence for whoever has to mend it. */
  private static String sentence(Throwable failed) {
    for (var cause = failed; cause != null; cause = cause.getCause()) {
      if (cause instanceof PortInUseException taken) {
        return "The port %d is taken by another program. Stop that one, or say another port in GLENMOOR_PORT or GLENMOOR_MANAGEMENT_PORT."
            .formatted(taken.getPort());
      }
      if (cause instanceof IllegalArgumentException && cause.getCause() == null) {
        return String.valueOf(cause.getMessage());
      }
    }
    return String.valueOf(failed.getMessage());
  }
}
