package glenmoor.connect.applications;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import java.net.URI;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.dao.PermissionDeniedDataAccessException;
import org.springframework.dao.RecoverableDataAccessException;
import org.springframework.dao.TransientDataAccessException;
import org.springframework.jdbc.BadSqlGrammarException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;

/**
 * The database of an application, and the statements that its definition gives: each is sent as it
 * stands, with values in the place of its named parameters. No statement is ever put together.
 */
final class SqlDatabase implements AutoCloseable {
  /** All settings there are. */
  static final Set<String> SETTINGS =
      Set.of("url", "user", "password-file", "trust-file", "statements", "last-used");

  /** What has to be given, with what it is for. */
  private static final Map<String, String> NEEDED =
      new TreeMap<>(
          Map.of(
              "find", "the user that carries :worker",
              "by-id", "the user of :id",
              "create", "adds a user",
              "update", "changes the user of :id",
              "enable", "opens or shuts the user of :id, by :enabled",
              "rights-of", "the rights of :id",
              "give", "gives :right to :id",
              "take", "takes :right from :id",
              "list", "all users",
              "list-rights", "all rights of all users"));

  private static final Set<String> BESIDES = Set.of("delete", "claim", "sessions", "end-sessions");
  private static final int CONNECT_MILLIS = 4_000;
  private static final int ANSWER_MILLIS = 10_000;
  private static final int ANSWER_SECONDS = 10;
  private static final int FETCHED_AT_ONCE = 500;

  private final Map<String, String> statements;
  private final HikariDataSource source;
  private final NamedParameterJdbcTemplate sql;

  SqlDatabase(Application application, Settings settings) {
    statements = statements(application, settings);
    var config = new HikariConfig();
    config.setJdbcUrl(address(settings, ANSWER_MILLIS));
    config.setUsername(settings.needed("user"));
    config.setPassword(settings.secretFrom("password-file"));
    config.setMaximumPoolSize(Math.max(2, application.parallel() + 1));
    config.setMinimumIdle(0);
    config.setConnectionTimeout(CONNECT_MILLIS);
    // It is opened whether or not the database answers at this moment.
    config.setInitializationFailTimeout(-1);
    config.setPoolName("sql-" + application.key());
    source = new HikariDataSource(config);
    var template = new JdbcTemplate(source);
    template.setQueryTimeout(ANSWER_SECONDS);
    template.setFetchSize(FETCHED_AT_ONCE);
    sql = new NamedParameterJdbcTemplate(template);
  }

  private static Map<String, String> statements(Application application, Settings settings) {
    var given = settings.map("statements");
    var missing = new TreeSet<>(NEEDED.keySet());
    missing.removeAll(given.keySet());
    if (!missing.isEmpty()) {
      throw new Settings.BadSetting(
          "The application %s has no statement %s (%s); add it under statements."
              .formatted(application.key(), missing.first(), NEEDED.get(missing.first())));
    }
    var unknown = new TreeSet<>(given.keySet());
    unknown.removeAll(NEEDED.keySet());
    unknown.removeAll(BESIDES);
    if (!unknown.isEmpty()) {
      throw new Settings.BadSetting(
          "The application %s has a statement %s that means nothing; there are %s and %s."
              .formatted(
                  application.key(),
                  unknown.first(),
                  String.join(", ", NEEDED.keySet()),
                  String.join(", ", new TreeSet<>(BESIDES))));
    }
    return given;
  }

  /** Only the host, the port and the schema are taken over: nothing else can be slipped in. */
  static String address(Settings settings, int answerMillis) {
    var url = settings.address("url");
    var at = URI.create(url);
    var path = String.valueOf(at.getPath());
    if (!"mariadb".equals(at.getScheme())
        || !path.matches("/[A-Za-z0-9_$-]+")
        || at.getQuery() != null) {
      throw new Settings.BadSetting(
          "The setting url of the %s is %s; say mariadb://HOST:PORT/SCHEMA."
              .formatted(settings.whose(), url));
    }
    var trust = settings.text("trust-file", "");
    return "jdbc:mariadb://%s:%d%s?connectTimeout=%d&socketTimeout=%d%s"
        .formatted(
            at.getHost(),
            at.getPort() < 0 ? 3306 : at.getPort(),
            path,
            CONNECT_MILLIS,
            answerMillis,
            trust.isEmpty() ? "" : "&sslMode=verify-full&serverSslCert=" + Path.of(trust));
  }

  boolean has(String statement) {
    return statements.containsKey(statement);
  }

  /** The rows a statement gives; at most two of them are looked at where one is expected. */
  List<Map<String, Object>> query(
      String statement, Map<String, ? extends @Nullable Object> values) {
    return sql.queryForList(text(statement), values);
  }

  /** Goes over the rows of a statement as they come. */
  void each(String statement, Consumer<Map<String, Object>> row) {
    sql.query(
        text(statement),
        Map.of(),
        found -> {
          var meta = found.getMetaData();
          var columns = new TreeMap<String, Object>(String.CASE_INSENSITIVE_ORDER);
          for (var i = 1; i <= meta.getColumnCount(); i++) {
            var value = found.getObject(i);
            if (value != null) {
              columns.put(meta.getColumnLabel(i), value);
            }
          }
          row.accept(columns);
        });
  }

  int update(String statement, Map<String, ? extends @Nullable Object> values) {
    return sql.update(text(statement), values);
  }

  private String text(String statement) {
    return Optional.ofNullable(statements.get(statement))
        .orElseThrow(
            () -> new InvalidDataAccessApiUsageException("There is no statement " + statement));
  }

  /** Whether what stands in the statements can be asked: those that only read. */
  List<String> mistakes() {
    var mistakes = new ArrayList<String>();
    for (var statement : List.of("find", "by-id", "rights-of")) {
      try {
        query(statement, Map.of("worker", "", "id", ""));
      } catch (BadSqlGrammarException | InvalidDataAccessApiUsageException wrong) {
        mistakes.add(
            "The statement %s cannot be carried out%s.".formatted(statement, state(wrong)));
      }
    }
    return mistakes;
  }

  /**
   * What a failure says of the statement, the database and ourselves. Its text may hold values, so
   * only its number is told.
   */
  static Outcome outcome(DataAccessException failed, String what) {
    return switch (failed) {
      case BadSqlGrammarException wrong ->
          new Outcome.WrongSettings(
              "the statement %s cannot be carried out%s".formatted(what, state(wrong)));
      case InvalidDataAccessApiUsageException wrong ->
          new Outcome.WrongSettings(
              "the statement %s names a value that is not there; there are :id, :worker, :name, :enabled, :right and the mapped attributes"
                  .formatted(what));
      case PermissionDeniedDataAccessException denied ->
          new Outcome.WrongCredentials(
              "the database does not let Glenmoor do this%s".formatted(state(denied)));
      case DataIntegrityViolationException refused ->
          new Outcome.Refused(
              "The database refused %s: a value is somebody else's already, or is not allowed there%s."
                  .formatted(what, state(refused)));
      case DataAccessResourceFailureException away -> away(away);
      case TransientDataAccessException later ->
          new Outcome.NotNow("the database is busy" + state(later), Optional.empty());
      case RecoverableDataAccessException broken ->
          new Outcome.Unreachable("the connection broke" + state(broken));
      default ->
          new Outcome.Refused(
              "The database could not carry out %s%s.".formatted(what, state(failed)));
    };
  }

  private static Outcome away(DataAccessResourceFailureException failed) {
    var cause = sqlCause(failed);
    return cause != null && String.valueOf(cause.getSQLState()).startsWith("28")
        ? new Outcome.WrongCredentials("the database does not let Glenmoor in" + state(failed))
        : new Outcome.Unreachable("the database does not answer" + state(failed));
  }

  /** {@code (SQL state 42S02, error 1146)}. */
  private static String state(DataAccessException failed) {
    var cause = sqlCause(failed);
    return cause == null
        ? ""
        : " (SQL state %s, error %d)".formatted(cause.getSQLState(), cause.getErrorCode());
  }

  private static @Nullable SQLException sqlCause(Throwable failed) {
    SQLException found = null;
    for (var each = failed; each != null; each = each.getCause()) {
      if (each instanceof SQLException sql) {
        found = sql;
      }
    }
    return found;
  }

  @Override
  public void close() {
    source.close();
  }
}
