package glenmoor.engine.reconcile;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.provisioning.Account;
import glenmoor.core.reconcile.Drift;
import glenmoor.core.reconcile.DriftKind;
import glenmoor.core.reconcile.FoundAccount;
import glenmoor.core.reconcile.ReconcileRule;
import glenmoor.core.reconcile.Response;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.provisioning.SeenAccounts;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.FoundMapper;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Finds how what an application listed differs from what it should have.
 *
 * <p>One statement names the accounts that may differ; only those are loaded and compared. An
 * account for which something is under way, or was done while the application was read, is passed
 * over: what was listed may be older than what was done.
 */
final class DriftFinder {
  private static final int AT_ONCE = 500;

  private final FoundMapper mapper;
  private final FoundAccounts found;
  private final DriftMapper drifts;
  private final OperationMapper operations;
  private final SeenAccounts accounts;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  DriftFinder(
      FoundMapper mapper,
      DriftMapper drifts,
      OperationMapper operations,
      SeenAccounts accounts,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.mapper = mapper;
    this.drifts = drifts;
    this.operations = operations;
    this.accounts = accounts;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
    found = new FoundAccounts(mapper);
  }

  /**
   * Keeps all differences that there are.
   *
   * @param since when reading began
   * @return how many accounts were passed over
   */
  int find(
      long reconcile,
      Application application,
      ReconcileRule rule,
      Catalogue catalogue,
      Instant since,
      WorkProgress progress) {
    var withRights = application.can(Ability.LIST_MEMBERSHIPS);
    var passedOver = 0;
    var compared = 0;
    var after = 0L;
    while (true) {
      var differing = mapper.differing(reconcile, application.key(), withRights, after, AT_ONCE);
      if (differing.isEmpty()) {
        break;
      }
      after = differing.getLast();
      var busy = new HashSet<>(mapper.busy(differing, since));
      passedOver += busy.size();
      var judged = differing.stream().filter(id -> !busy.contains(id)).toList();
      keep(accountDrifts(reconcile, judged, application, rule, withRights));
      compared += differing.size();
      progress.at(0, 0, "%,d accounts that differ compared".formatted(compared));
    }
    strays(reconcile, application, rule, catalogue);
    return passedOver;
  }

  private List<DriftRow> accountDrifts(
      long reconcile,
      List<Long> judged,
      Application application,
      ReconcileRule rule,
      boolean withRights) {
    var here = found.of(reconcile, judged);
    var planned = accounts.byIds(judged);
    var accepted = accepted(planned);
    var rows = new ArrayList<DriftRow>();
    for (var account : planned) {
      var seen = here.get(account.id());
      var all =
          seen == null ? List.of(Drift.missing(account)) : Drift.between(account, seen, withRights);
      for (var drift : all) {
        if (!accepted.contains(new Side(account.id(), drift.aspect()))) {
          rows.add(row(reconcile, account, drift, response(drift, application, rule)));
        }
      }
    }
    return rows;
  }

  private record Side(long account, String aspect) {}

  /** The sides of accounts whose difference somebody answers for. */
  private Set<Side> accepted(List<Account> planned) {
    if (planned.isEmpty()) {
      return Set.of();
    }
    var people = planned.stream().map(account -> account.person().value()).toList();
    return operations.deviationsOf(people).stream()
        .map(each -> new Side(each.accountId(), each.aspect()))
        .collect(Collectors.toSet());
  }

  /** A name that is never changed cannot be repaired either. */
  private static Response response(Drift drift, Application application, ReconcileRule rule) {
    var response = rule.response(drift.kind());
    return response == Response.REPAIR
            && !application.renames()
            && drift.expected().keySet().equals(Set.of("name"))
        ? Response.REPORT
        : response;
  }

  private DriftRow row(long reconcile, Account account, Drift drift, Response response) {
    return row(
        reconcile,
        account.application(),
        "account:" + account.id(),
        account,
        "",
        account.name(),
        drift,
        response);
  }

  /** A difference as it is kept; the account is null for nobody's. */
  private DriftRow row(
      long reconcile,
      String application,
      String subject,
      @Nullable Account account,
      String nativeId,
      String name,
      Drift drift,
      Response response) {
    var now = clock.instant();
    return new DriftRow(
        ids.next(),
        application,
        drift.kind().word(),
        "open",
        response.word(),
        subject,
        account == null ? null : account.id(),
        account == null ? null : account.person().value(),
        nativeId,
        name,
        drift.aspect(),
        CanonicalJson.write(drift.expected()),
        CanonicalJson.write(drift.found()),
        now,
        now,
        reconcile,
        "",
        null,
        "",
        "");
  }

  private void strays(
      long reconcile, Application application, ReconcileRule rule, Catalogue catalogue) {
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var after = 0;
    while (true) {
      var page = mapper.strays(reconcile, application.key(), today, after, AT_ONCE);
      if (page.isEmpty()) {
        return;
      }
      after = page.getLast().line();
      var rows = new ArrayList<DriftRow>();
      for (var stray : found.of(reconcile, page)) {
        rows.add(
            stray(reconcile, application.key(), stray, rule.response(DriftKind.STRAY_ACCOUNT)));
      }
      keep(rows);
    }
  }

  private DriftRow stray(
      long reconcile, String application, FoundAccount stray, Response response) {
    return row(
        reconcile,
        application,
        "native:" + FoundWriter.digest(stray.nativeId()),
        null,
        stray.nativeId(),
        stray.name(),
        Drift.stray(stray),
        response);
  }

  private void keep(List<DriftRow> rows) {
    if (!rows.isEmpty()) {
      transactions.run(() -> drifts.see(rows));
    }
  }
}
