package glenmoor.engine.usage;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.people.Visible;
import glenmoor.engine.time.Clock;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.time.SqlTime;
import glenmoor.store.usage.UsageMapper;
import glenmoor.store.usage.UsageMapper.IdleRow;
import glenmoor.store.usage.UsageMapper.Watch;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** What is held and was not used for long. */
@Named
public final class IdleAccess {
  private static final JsonMapper JSON = JsonMapper.shared();

  /**
   * An account, or a right, that is idle.
   *
   * @param entitlement its key; empty for the whole account
   * @param name its plain name, or that of the application
   * @param lastUsed null where it was never seen used
   * @param since from when it counts
   * @param idleDays after how many days it is idle there
   */
  public record Idle(
      long account,
      String application,
      String applicationName,
      String accountName,
      String worker,
      String person,
      String entitlement,
      String name,
      @Nullable Instant lastUsed,
      Instant since,
      int idleDays) {}

  /**
   * When an account, or a right of it, was used last; {@code entitlement} is empty for the account.
   */
  public record Use(String application, String account, String entitlement, Instant lastUsed) {}

  private final UsageMapper usage;
  private final AccountMapper accounts;
  private final Visible visible;
  private final Catalogues catalogues;
  private final Clock clock;

  IdleAccess(
      UsageMapper usage,
      AccountMapper accounts,
      Visible visible,
      Catalogues catalogues,
      Clock clock) {
    this.usage = usage;
    this.accounts = accounts;
    this.visible = visible;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * What is idle, in the applications that the actor sees.
   *
   * @param application only there; null for all
   * @param after the account and, after a slash, the right that the list before ended with; empty
   *     to begin
   */
  public List<Idle> list(@Nullable String application, String after, int limit, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var catalogue = catalogues.current();
    var now = clock.instant();
    var watches =
        catalogue.applications().stream()
            .filter(each -> each.idleDays().isPresent() && reach.covers(each.key()))
            .filter(each -> application == null || each.key().equals(application))
            .map(each -> new Watch(each.key(), SqlTime.write(before(each, now))))
            .toList();
    if (watches.isEmpty()) {
      return List.of();
    }
    var slash = after.indexOf('/');
    var account = slash < 0 ? 0 : number(after.substring(0, slash));
    return usage
        .idle(
            JSON.writeValueAsString(watches),
            account,
            slash < 0 ? "" : after.substring(slash + 1),
            limit)
        .stream()
        .map(row -> idle(row, catalogue))
        .toList();
  }

  private static long number(String text) {
    try {
      return Long.parseLong(text);
    } catch (NumberFormatException wrong) {
      throw Refused.badInput("after is not what a list before gave at its end.");
    }
  }

  /** What was not used since this moment is idle. */
  static Instant before(Application application, Instant now) {
    return now.minus(Duration.ofDays(application.idleDays().orElseThrow()));
  }

  private static Idle idle(IdleRow row, Catalogue catalogue) {
    var application = catalogue.application(row.application());
    return new Idle(
        row.accountId(),
        application.key(),
        application.name(),
        row.account(),
        row.worker(),
        row.person(),
        row.entitlement(),
        Optional.ofNullable(catalogue.entitlements().get(row.entitlement()))
            .map(Entitlement::plainName)
            .orElse(application.name()),
        row.lastUsed(),
        row.since(),
        application.idleDays().orElseThrow());
  }

  /** When somebody's accounts and rights were used last, as far as that was told. */
  public List<Use> of(String worker, Actor actor) {
    var row = visible.row(worker, actor);
    var owned =
        accounts.of(List.of(row.id())).stream()
            .collect(Collectors.toMap(AccountRow::id, each -> each));
    return owned.isEmpty()
        ? List.of()
        : usage.of(owned.keySet()).stream()
            .map(each -> {
              var account = Objects.requireNonNull(owned.get(each.accountId()));
              return new Use(
                  account.application(), account.name(), each.entitlement(), each.lastUsed());
            })
            .toList();
  }
}
