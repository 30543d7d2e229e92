package glenmoor.connect.applications;

import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.sql.Date;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DuplicateKeyException;

/**
 * Accounts as rows of an application's own database, by statements that its definition gives.
 *
 * <p>A user is found by the worker number, which is compared here once more: databases compare
 * texts loosely. What was written is read again before it counts.
 */
final class SqlConnector implements Connector {
  private final Application application;
  private final SqlDatabase database;
  private final String lastUsed;

  /** What is found cannot be taken for the account's own. */
  private static final class NotOurs extends RuntimeException {
    private static final long serialVersionUID = 1;

    NotOurs(String sentence) {
      super(sentence, null, false, false);
    }
  }

  /**
   * A user as it was read.
   *
   * @param worker empty if it carries none
   */
  private record User(
      String id, String name, String worker, boolean enabled, TreeMap<String, String> attributes) {}

  SqlConnector(Application application, Settings settings) {
    this.application = application;
    database = new SqlDatabase(application, settings);
    lastUsed = settings.text("last-used", "");
  }

  @Override
  public Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open) {
    try {
      return switch (command) {
        case ProvisioningCommand.Create create -> create(create, target);
        case ProvisioningCommand.Update update ->
            own(target, user -> shaped(user, update.name(), update.attributes()));
        case ProvisioningCommand.Enable e -> own(target, user -> enabled(user, true));
        case ProvisioningCommand.Disable d -> own(target, user -> enabled(user, false));
        case ProvisioningCommand.Add add ->
            own(target, user -> right(user, add.technicalName(), true));
        case ProvisioningCommand.Remove remove ->
            own(target, user -> right(user, remove.technicalName(), false));
        case ProvisioningCommand.HandOver h -> Connector.ownsNothing();
        case ProvisioningCommand.SetPassword s ->
            new Outcome.Refused("Accounts there have no password that Glenmoor could set.");
        case ProvisioningCommand.Delete d -> own(target, this::deleted);
      };
    } catch (DataAccessException failed) {
      return SqlDatabase.outcome(failed, command.word());
    } catch (NotOurs other) {
      return new Outcome.Refused(String.valueOf(other.getMessage()));
    }
  }

  private Outcome create(ProvisioningCommand.Create create, Target target) {
    var there = find(target);
    if (there != null) {
      return adopted(there, create);
    }
    var values = values("", create.name(), create.attributes());
    values.put("worker", target.worker());
    values.put("enabled", create.state() == AccountState.ENABLED);
    try {
      database.update("create", values);
    } catch (DuplicateKeyException taken) {
      var now = find(target);
      return now == null
          ? new Outcome.Refused(
              "The name %s is taken by a user that carries no worker number %s. Give that user the worker number to have it adopted, or rename it, then try again."
                  .formatted(create.name(), target.worker()))
          : adopted(now, create);
    }
    var made = find(target);
    return made == null
        ? new Outcome.Unproven("The user was added, but cannot be read")
        : same(made, create.name(), create.attributes())
                && made.enabled() == (create.state() == AccountState.ENABLED)
            ? new Outcome.Confirmed(made.id(), "")
            : unchanged();
  }

  private Outcome adopted(User there, ProvisioningCommand.Create create) {
    var shaped = shaped(there, create.name(), create.attributes());
    if (!(shaped instanceof Outcome.Confirmed)) {
      return shaped;
    }
    var outcome = enabled(there, create.state() == AccountState.ENABLED);
    return outcome instanceof Outcome.Confirmed
        ? new Outcome.Confirmed(there.id(), "adopted the user that was there")
        : outcome;
  }

  private Outcome shaped(User user, String name, Map<String, String> attributes) {
    if (!same(user, name, attributes)) {
      database.update("update", values(user.id(), name, attributes));
    }
    var after = byId(user.id());
    return after != null && same(after, name, attributes)
        ? new Outcome.Confirmed(user.id(), "")
        : unchanged();
  }

  private boolean same(User user, String name, Map<String, String> attributes) {
    return user.name().equals(name)
        && application.attributes().keySet().stream()
            .allMatch(each ->
                user.attributes().getOrDefault(each, "").equals(attributes.getOrDefault(each, "")));
  }

  /** An attribute without a value is null there. */
  private Map<String, @Nullable Object> values(
      String id, String name, Map<String, String> attributes) {
    var values = new HashMap<String, @Nullable Object>();
    for (var attribute : application.attributes().keySet()) {
      values.put(attribute, attributes.get(attribute));
    }
    values.put("id", id);
    values.put("name", name);
    return values;
  }

  private Outcome enabled(User user, boolean enabled) {
    if (user.enabled() != enabled) {
      database.update("enable", Map.of("id", user.id(), "enabled", enabled));
    }
    var after = byId(user.id());
    if (after == null || after.enabled() != enabled) {
      return unchanged();
    }
    return enabled || !database.has("end-sessions")
        ? new Outcome.Confirmed(user.id(), "")
        : signedOut(user);
  }

  /** Whoever is disabled is signed out as well; after that nobody can begin another session. */
  private Outcome signedOut(User user) {
    var ended = database.update("end-sessions", Map.of("id", user.id()));
    var open =
        database.has("sessions") ? database.query("sessions", Map.of("id", user.id())).size() : 0;
    return open > 0
        ? new Outcome.Unproven(
            "The user was disabled, and %d of their sessions still go on".formatted(open))
        : new Outcome.Confirmed(
            user.id(),
            ended == 0
                ? ""
                : ended == 1 ? "ended 1 session" : "ended %d sessions".formatted(ended));
  }

  private Outcome right(User user, String right, boolean held) {
    if (holds(user, right) != held) {
      database.update(held ? "give" : "take", Map.of("id", user.id(), "right", right));
    }
    return holds(user, right) == held ? new Outcome.Confirmed(user.id(), "") : unchanged();
  }

  private boolean holds(User user, String right) {
    return database.query("rights-of", Map.of("id", user.id())).stream()
        .anyMatch(row -> text(row, "right").equals(right));
  }

  private Outcome deleted(User user) {
    if (!database.has("delete")) {
      return new Outcome.WrongSettings("there is no statement delete; add it under statements");
    }
    database.update("delete", Map.of("id", user.id()));
    return byId(user.id()) == null
        ? new Outcome.Confirmed("", "")
        : new Outcome.Unproven("The user was deleted, but is still there");
  }

  private static Outcome unchanged() {
    return new Outcome.Unproven("The row was changed, but read back unchanged");
  }

  private interface OnUser {
    Outcome apply(User user);
  }

  private Outcome own(Target target, OnUser work) {
    var user = find(target);
    return user == null
        ? new Outcome.Gone("no user carries the worker number " + target.worker())
        : work.apply(user);
  }

  /** The user that carries exactly this worker number, or null. */
  private @Nullable User find(Target target) {
    User own = null;
    for (var row : database.query("find", Map.of("worker", target.worker()))) {
      var user = user(row);
      if (!user.worker().equals(target.worker())) {
        continue;
      }
      if (own != null) {
        throw new NotOurs(
            "Two users carry the worker number %s: %s and %s. Leave it to one of them, then try again."
                .formatted(target.worker(), own.name(), user.name()));
      }
      own = user;
    }
    if (own != null && !own.id().equals(target.nativeId()) && target.owners().isOthers(own.id())) {
      throw new NotOurs(
          "The user %s belongs to somebody else's account already; one user serves one person. Give the two different worker numbers in the application, then try again."
              .formatted(own.name()));
    }
    return own;
  }

  private @Nullable User byId(String id) {
    return database.query("by-id", Map.of("id", id)).stream()
        .map(this::user)
        .filter(user -> user.id().equals(id))
        .findFirst()
        .orElse(null);
  }

  private User user(Map<String, Object> row) {
    var attributes = new TreeMap<String, String>();
    for (var attribute : application.attributes().keySet()) {
      var value = text(row, attribute);
      if (!value.isEmpty()) {
        attributes.put(attribute, value);
      }
    }
    return new User(
        text(row, "id"),
        text(row, "name"),
        text(row, "worker"),
        yes(row.get("enabled")),
        attributes);
  }

  private static String text(Map<String, Object> row, String column) {
    return Objects.toString(row.get(column), "");
  }

  /** A moment as a database gives it, in UTC where it names no zone; what is none tells nothing. */
  private static @Nullable Instant moment(@Nullable Object value) {
    return switch (value) {
      case null -> null;
      case Timestamp at -> at.toLocalDateTime().toInstant(ZoneOffset.UTC);
      case LocalDateTime at -> at.toInstant(ZoneOffset.UTC);
      case OffsetDateTime at -> at.toInstant();
      case Date day -> day.toLocalDate().atStartOfDay(ZoneOffset.UTC).toInstant();
      case LocalDate day -> day.atStartOfDay(ZoneOffset.UTC).toInstant();
      default -> null;
    };
  }

  private static boolean yes(@Nullable Object value) {
    return switch (value) {
      case null -> false;
      case Boolean yes -> yes;
      case Number number -> number.intValue() != 0;
      default ->
          List.of("yes", "true", "1", "y").contains(value.toString().toLowerCase(Locale.ROOT));
    };
  }

  @Override
  public Health test() {
    var before = System.nanoTime();
    try {
      database.query("by-id", Map.of("id", ""));
      var millis = (System.nanoTime() - before) / 1_000_000;
      return new Health(true, "answers in " + millis + " ms", millis);
    } catch (DataAccessException failed) {
      return new Health(false, SqlDatabase.outcome(failed, "by-id").sentence(), 0);
    }
  }

  @Override
  public Findings examine(Collection<Entitlement> entitlements) {
    return reading(() -> new Findings(List.of("rows of its own database"), database.mistakes()));
  }

  @Override
  public void list(Consumer<Seen> each) {
    reading(() -> {
      database.each(
          "list",
          row -> {
            var user = user(row);
            each.accept(
                new Seen(
                    user.id(),
                    user.id(),
                    user.name(),
                    "",
                    user.worker(),
                    user.enabled(),
                    user.attributes(),
                    lastUsed.isEmpty() ? null : moment(row.get(lastUsed))));
          });
      return true;
    });
  }

  @Override
  public void memberships(Consumer<Membership> each) {
    reading(() -> {
      database.each(
          "list-rights",
          row -> {
            var kind = text(row, "kind");
            each.accept(
                new Membership(
                    text(row, "id"), kind.isEmpty() ? "role" : kind, text(row, "right")));
          });
      return true;
    });
  }

  private static <T> T reading(Supplier<T> work) {
    try {
      return work.get();
    } catch (DataAccessException failed) {
      throw new CannotRead(SqlDatabase.outcome(failed, "list").sentence());
    }
  }

  @Override
  public Outcome claim(String nativeId, String worker) {
    return stray(
        nativeId,
        user -> {
          if (user.worker().equals(worker)) {
            return new Outcome.Confirmed(nativeId, "");
          }
          if (!user.worker().isEmpty()) {
            return carriesAnother(user);
          }
          if (!database.has("claim")) {
            return new Outcome.WrongSettings(
                "there is no statement claim; add it under statements");
          }
          database.update("claim", Map.of("id", nativeId, "worker", worker));
          return Optional.ofNullable(byId(nativeId))
                  .filter(after -> after.worker().equals(worker))
                  .isPresent()
              ? new Outcome.Confirmed(nativeId, "")
              : unchanged();
        });
  }

  @Override
  public Outcome deleteStray(String nativeId) {
    return stray(nativeId, user -> user.worker().isEmpty() ? deleted(user) : carriesAnother(user));
  }

  private static Outcome carriesAnother(User user) {
    return new Outcome.Refused(
        "The user %s carries another worker number, so nothing was done with it."
            .formatted(user.name()));
  }

  private Outcome stray(String nativeId, OnUser work) {
    try {
      var user = byId(nativeId);
      return user == null ? new Outcome.Gone("no user has that id any more") : work.apply(user);
    } catch (DataAccessException failed) {
      return SqlDatabase.outcome(failed, "by-id");
    }
  }

  @Override
  public void close() {
    database.close();
  }
}
