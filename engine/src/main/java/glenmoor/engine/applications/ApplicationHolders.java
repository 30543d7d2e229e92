package glenmoor.engine.applications;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.applications.HoldersMapper;
import glenmoor.store.applications.HoldersMapper.AccountListed;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.Uses;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Who holds what in an application, how it is looked after, and what the next days bring there. */
@Named
public final class ApplicationHolders {
  private static final Duration AHEAD = Duration.ofDays(30);
  private static final List<String> SEEN = List.of("enabled", "disabled", "none");

  /** An account of somebody. */
  public record AccountLine(
      long id,
      String worker,
      String person,
      String account,
      String state,
      String seenState,
      int rights) {}

  /**
   * An entitlement, and how many accounts have it or are to have it.
   *
   * @param packages the names of those that give it
   */
  public record RightLine(
      String key,
      String name,
      String technicalName,
      String kind,
      int holders,
      List<String> packages) {}

  /** What happens on a day: {@code deleted} accounts after their hold, or {@code ending} grants. */
  public record Coming(LocalDate day, String what, int number) {}

  /**
   * What an application is.
   *
   * @param after names of the applications whose account names it uses
   * @param care how accounts are looked after, in words
   */
  public record ApplicationDetail(
      String key,
      String name,
      String connector,
      int parallel,
      List<String> after,
      List<String> care,
      List<RightLine> rights,
      List<Coming> coming) {}

  private final Catalogues catalogues;
  private final HoldersMapper holders;
  private final AccountMapper accounts;
  private final KnownApplications applications;
  private final Clock clock;

  public ApplicationHolders(
      Catalogues catalogues,
      HoldersMapper holders,
      AccountMapper accounts,
      KnownApplications applications,
      Clock clock) {
    this.applications = applications;
    this.catalogues = catalogues;
    this.holders = holders;
    this.accounts = accounts;
    this.clock = clock;
  }

  /**
   * The application, with its rights and what comes.
   *
   * @throws Refused if there is none that the actor may see
   */
  public ApplicationDetail show(String key, Actor actor) {
    var catalogue = catalogues.current();
    var application = applications.of(key, Permission.SEE_APPLICATIONS, actor);
    return new ApplicationDetail(
        key,
        application.name(),
        application.connector(),
        application.parallel(),
        application.after().stream().map(each -> catalogue.application(each).name()).toList(),
        care(application),
        rights(key, catalogue),
        coming(application, catalogue));
  }

  /**
   * Accounts in the order in which they were made.
   *
   * @param seen how they were last seen: enabled, disabled or none; null for all
   */
  public List<AccountLine> accounts(
      String key, @Nullable String seen, long after, int limit, Actor actor) {
    applications.of(key, Permission.SEE_APPLICATIONS, actor);
    if (seen != null && !SEEN.contains(seen)) {
      throw Refused.badInput(
          "There is no state “%s” of accounts; say one of %s."
              .formatted(seen, String.join(", ", SEEN)));
    }
    return holders.accounts(key, seen, after, limit).stream()
        .map(ApplicationHolders::line)
        .toList();
  }

  private static AccountLine line(AccountListed row) {
    return new AccountLine(
        row.id(),
        row.workerNumber(),
        row.personName(),
        row.name(),
        row.state(),
        row.seenState(),
        row.rights());
  }

  private static List<String> care(Application application) {
    var care = application.lifecycle();
    return List.of(
        care.readyDaysAhead() == 0
            ? "accounts are made on the first day"
            : "accounts are made %d days before the first day, and opened on it"
                .formatted(care.readyDaysAhead()),
        "on leave: " + care.onLeave().word(),
        "an account that nobody needs is held %d days, then %s"
            .formatted(
                care.holdDays(), care.afterHold() == AfterHold.DELETE ? "deleted" : "kept shut"),
        "a name that was given up goes to nobody else for %d days"
            .formatted(application.namesKeptDays()),
        application.renames() ? "names follow the facts" : "names stay as they are",
        application
            .maintenance()
            .map(each ->
                "maintained by crontab %s for %d minutes"
                    .formatted(each.at(), each.lasts().toMinutes()))
            .orElse("never maintained by plan"));
  }

  private List<RightLine> rights(String key, Catalogue catalogue) {
    var here =
        catalogue.entitlements().values().stream()
            .filter(each -> each.application().equals(key))
            .toList();
    Map<String, Integer> uses =
        here.isEmpty()
            ? Map.of()
            : accounts.holdersOf(here.stream().map(Entitlement::key).toList()).stream()
                .collect(Collectors.toMap(Uses::key, Uses::accounts));
    return here.stream()
        .map(each ->
            new RightLine(
                each.key(),
                each.plainName(),
                each.technicalName(),
                each.kind(),
                uses.getOrDefault(each.key(), 0),
                catalogue.packages().values().stream()
                    .filter(bundle -> bundle.entitlements().contains(each.key()))
                    .map(bundle -> bundle.name())
                    .sorted()
                    .toList()))
        .sorted(Comparator.comparing(RightLine::name))
        .toList();
  }

  private List<Coming> coming(Application application, Catalogue catalogue) {
    var now = clock.instant();
    var coming = new ArrayList<Coming>();
    var care = application.lifecycle();
    if (care.afterHold() == AfterHold.DELETE) {
      holders
          .unneeded(application.key(), now.minus(care.hold()), now.minus(care.hold()).plus(AHEAD))
          .forEach(each ->
              coming.add(
                  new Coming(each.day().plusDays(care.holdDays()), "deleted", each.number())));
    }
    var targets =
        Stream.concat(
                catalogue.entitlements().values().stream()
                    .filter(each -> each.application().equals(application.key()))
                    .map(Entitlement::key),
                catalogue.packages().entrySet().stream()
                    .filter(bundle ->
                        bundle.getValue().entitlements().stream()
                            .anyMatch(each -> each.startsWith(application.key() + "/")))
                    .map(Map.Entry::getKey))
            .toList();
    if (!targets.isEmpty()) {
      holders
          .ending(targets, now, now.plus(AHEAD))
          .forEach(each -> coming.add(new Coming(each.day(), "ending", each.number())));
    }
    coming.sort(Comparator.comparing(Coming::day).thenComparing(Coming::what));
    return coming;
  }
}
