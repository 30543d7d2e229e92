package glenmoor.engine.reconcile;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.AccountState;
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
import glenmoor.store.Parts;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
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
 * <p>One statement names those of the kept accounts that may differ; only those are loaded and
 * compared. An account for which something is under way, or was done while the application was
 * read, is passed over: what was listed may be older than what was done.
 */
@Named
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
   * @param missing accounts that should be there and were not listed, by identity
   * @return how many accounts were passed over
   */
  int find(
      long reconcile,
      Application application,
      ReconcileRule rule,
      Catalogue catalogue,
      Instant since,
      List<Long> missing,
      WorkProgress progress) {
    var search = new Search(reconcile, application, rule, since, progress);
    var after = 0L;
    while (true) {
      var differing = mapper.differing(reconcile, search.withRights(), after, AT_ONCE);
      if (differing.isEmpty()) {
        break;
      }
      after = differing.getLast();
      search.compare(differing);
    }
    Parts.each(missing, AT_ONCE, search::compare);
    strays(reconcile, application, rule, catalogue);
    return search.passedOver;
  }

  /** One search under way. */
  private final class Search {
    private final long reconcile;
    private final Application application;
    private final ReconcileRule rule;
    private final Instant since;
    private final WorkProgress progress;
    private int compared;
    private int passedOver;

    Search(
        long reconcile,
        Application application,
        ReconcileRule rule,
        Instant since,
        WorkProgress progress) {
      this.reconcile = reconcile;
      this.application = application;
      this.rule = rule;
      this.since = since;
      this.progress = progress;
    }

    boolean withRights() {
      return application.can(Ability.LIST_MEMBERSHIPS);
    }

    void compare(List<Long> differing) {
      var busy = new HashSet<>(mapper.busy(differing, since));
      passedOver += busy.size();
      keep(drifts(differing.stream().filter(id -> !busy.contains(id)).toList()));
      compared += differing.size();
      progress.at(0, 0, "%,d accounts that differ compared".formatted(compared));
    }

    private List<DriftRow> drifts(List<Long> judged) {
      var here = found.of(reconcile, judged);
      var planned = accounts.byIds(judged);
      var accepted = accepted(planned);
      var rows = new ArrayList<DriftRow>();
      for (var account : planned) {
        for (var drift : drifts(account, here.get(account.id()))) {
          if (!accepted.contains(new Side(account.id(), drift.aspect()))) {
            rows.add(row(reconcile, account, drift, response(drift, application, rule)));
          }
        }
      }
      return rows;
    }

    private List<Drift> drifts(Account account, @Nullable FoundAccount seen) {
      if (seen != null) {
        return Drift.between(account, seen, withRights());
      }
      // It may have been given up since it was noted what should be there.
      return account.state() == AccountState.NONE || account.seen().state() == AccountState.NONE
          ? List.of()
          : List.of(Drift.missing(account));
    }
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

  /**
   * A name that is never changed cannot be repaired either. What opens an account is never done by
   * itself: an older copy of the database may not know yet that somebody was dismissed.
   */
  private static Response response(Drift drift, Application application, ReconcileRule rule) {
    var response = rule.response(drift.kind());
    if (response != Response.REPAIR) {
      return response;
    }
    if (drift.opens()) {
      return Response.ASK;
    }
    return !application.renames() && drift.expected().keySet().equals(Set.of("name"))
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
