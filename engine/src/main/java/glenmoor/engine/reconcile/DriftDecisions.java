package glenmoor.engine.reconcile;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.core.reconcile.DriftKind;
import glenmoor.core.reconcile.FoundAccount;
import glenmoor.engine.Refused;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.provisioning.SeenAccounts;
import glenmoor.engine.provisioning.SeenAccounts.Found;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.NewDeviation;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Carries out what is decided on differences, by people or by an application's definition. All of
 * it inside the caller's transaction, on rows that it has locked.
 *
 * <p>What was listed when a difference was found is what is decided on: where something was done
 * for the account since, or that list is gone, it has to be compared again first.
 */
@Named
final class DriftDecisions {
  /** Who decided, and why. */
  record Decider(String login, String reason) {}

  private final DriftMapper drifts;
  private final FoundMapper found;
  private final FoundAccounts foundAccounts;
  private final OperationMapper operations;
  private final PersonMapper people;
  private final PersonSnapshots snapshots;
  private final SeenAccounts accounts;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  DriftDecisions(
      DriftMapper drifts,
      FoundMapper found,
      OperationMapper operations,
      PersonMapper people,
      PersonSnapshots snapshots,
      SeenAccounts accounts,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    this.drifts = drifts;
    this.found = found;
    this.operations = operations;
    this.people = people;
    this.snapshots = snapshots;
    this.accounts = accounts;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
    foundAccounts = new FoundAccounts(found);
  }

  /**
   * Has the application made as it should be: accounts are planned from what was found.
   *
   * @return those of the rows that were decided; the others have something under way
   */
  List<DriftRow> repair(List<DriftRow> rows, Decider by, Instant now) {
    var decided = current(rows);
    plan(decided, true, now);
    settle(decided, "repair-ordered", by, now);
    return decided;
  }

  /** Lets people have what they were found to have: each right becomes a grant. */
  List<DriftRow> adopt(List<DriftRow> rows, Decider by, Catalogue catalogue, Instant now) {
    var extra =
        rows.stream().filter(row -> row.kind().equals(DriftKind.EXTRA_ENTITLEMENT.word())).toList();
    if (extra.isEmpty()) {
      return extra;
    }
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var owners = new HashMap<Long, PersonSnapshot>();
    snapshots
        .of(people.byIds(people(extra)), catalogue)
        .forEach(each -> owners.put(each.person().id().value(), each));
    var decided =
        current(extra).stream()
            .filter(row -> {
              var owner = owners.get(row.personId());
              return owner != null && mayHold(Standing.of(owner.person(), today));
            })
            .toList();
    plan(decided, true, now);
    bulk.insert(
        "access_grant",
        decided.stream()
            .map(row ->
                grant(Objects.requireNonNull(row.personId()), entitlement(row), row, by, now))
            .toList());
    settle(decided, "adopted", by, now);
    return decided;
  }

  private static boolean mayHold(Standing standing) {
    return switch (standing) {
      case ACTIVE, ON_LEAVE, EXPECTED -> true;
      case LEFT, ERASED -> false;
    };
  }

  /** Takes an account that is nobody's for a person's, with all that it holds. */
  void attach(DriftRow row, PersonSnapshot owner, Decider by, Catalogue catalogue, Instant now) {
    mayAttach(row, owner, catalogue, now);
    var stray = stray(row);
    var application = catalogue.application(row.application());
    var cause = "drift:" + row.id();
    accounts.adopt(owner, application, seen(stray), catalogue, cause, now);
    var has =
        owner.grants().stream()
            .filter(grant -> grant.inForce(now))
            .flatMap(grant -> catalogue.given(grant))
            .map(each -> each.key())
            .collect(Collectors.toSet());
    bulk.insert(
        "access_grant",
        stray.entitlements().stream()
            .filter(key -> !has.contains(key))
            .map(key -> grant(owner.person().id().value(), key, row, by, now))
            .toList());
    settle(List.of(row), "adopted", by, now);
  }

  /**
   * Asked before the application is told whose the account is.
   *
   * @throws Refused if it cannot be this person's
   */
  void mayAttach(DriftRow row, PersonSnapshot owner, Catalogue catalogue, Instant now) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    if (!mayHold(Standing.of(owner.person(), today))) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s has left, so the account would be shut again at once."
              .formatted(owner.person().worker().value()));
    }
    accounts.adoptable(owner, catalogue.application(row.application()), seen(stray(row)), now);
  }

  /**
   * Whether taking a stray account for this person's would leave it as it is: an account that
   * nothing explains is shut as soon as it is somebody's.
   */
  boolean staysOpen(DriftRow row, PersonSnapshot owner, Catalogue catalogue, Instant now) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    return mayHold(Standing.of(owner.person(), today))
        && (!stray(row).entitlements().isEmpty()
            || owner.accounts().stream()
                .anyMatch(account -> account.application().equals(row.application())));
  }

  /** Lets a difference be, until a moment. */
  void accept(DriftRow row, Instant until, Decider by, Instant now) {
    if (current(List.of(row)).isEmpty()) {
      throw underWay();
    }
    plan(List.of(row), false, now);
    operations.deviate(
        new NewDeviation(
            ids.next(),
            Objects.requireNonNull(row.accountId()),
            Objects.requireNonNull(row.personId()),
            row.application(),
            row.aspect(),
            0,
            by.login(),
            by.reason(),
            now,
            until));
    settle(List.of(row), "accepted", by, now);
  }

  void settle(List<DriftRow> rows, String outcome, Decider by, Instant now) {
    if (rows.isEmpty()) {
      return;
    }
    drifts.settle(rows.stream().map(DriftRow::id).toList(), outcome, by.login(), by.reason(), now);
    ledger.append(
        rows.stream()
            .map(row ->
                new LedgerEntry(
                    now,
                    by.login(),
                    "drift:" + row.id(),
                    row.accountId() == null
                        ? "application:" + row.application()
                        : "account:" + row.accountId(),
                    "drift-" + outcome,
                    described(row),
                    Map.of("reason", by.reason())))
            .toList());
  }

  private static Map<String, Object> described(DriftRow row) {
    var described = new TreeMap<String, Object>();
    described.put("application", row.application());
    described.put("kind", row.kind());
    described.put("account", row.accountName());
    described.put("aspect", row.aspect());
    return described;
  }

  static Refused underWay() {
    return new Refused(
        Refused.Reason.NOT_NOW,
        "Something was done for that account since it was compared; reconcile the application again, then decide.");
  }

  /** Those for whose side of the account nothing was done since they were listed. */
  private List<DriftRow> current(List<DriftRow> rows) {
    var busy = new HashMap<Long, Set<String>>();
    byRun(rows)
        .forEach((run, those) -> {
          var known = found.byId(run);
          var accounts = accounts(those);
          if (known != null && !accounts.isEmpty()) {
            found
                .sidesUnderWay(accounts, known.startedAt())
                .forEach(side ->
                    busy.computeIfAbsent(side.accountId(), id -> new HashSet<>())
                        .add(side.aspect()));
          }
        });
    return rows.stream()
        .filter(row -> row.accountId() != null)
        .filter(row -> {
          var sides = busy.getOrDefault(row.accountId(), Set.of());
          return sides.isEmpty()
              || !row.aspect().equals(ProvisioningCommand.WHOLE)
                  && !sides.contains(ProvisioningCommand.WHOLE)
                  && !sides.contains(row.aspect());
        })
        .toList();
  }

  private void plan(List<DriftRow> rows, boolean anew, Instant now) {
    byRun(rows)
        .forEach((run, those) -> {
          var here = foundAccounts.of(run, accounts(those));
          var plan = new LinkedHashMap<Long, Found>();
          for (var row : those) {
            var id = Objects.requireNonNull(row.accountId());
            var before = plan.get(id);
            var aspects = before == null ? new HashSet<String>() : new HashSet<>(before.aspects());
            aspects.add(row.aspect());
            plan.put(id, found(row, here.get(id), aspects, anew));
          }
          accounts.planFrom(plan, "drift:" + those.getFirst().id(), now);
        });
  }

  private static Found found(
      DriftRow row, @Nullable FoundAccount here, Set<String> aspects, boolean anew) {
    if (here != null) {
      return new Found(FoundAccounts.seen(here), here.nativeId(), aspects, anew);
    }
    if (!row.kind().equals(DriftKind.MISSING_ACCOUNT.word())) {
      throw listIsGone();
    }
    return new Found(Account.Seen.NOTHING, "", aspects, anew);
  }

  private static Map<Long, List<DriftRow>> byRun(List<DriftRow> rows) {
    return rows.stream()
        .collect(Collectors.groupingBy(DriftRow::seenIn, TreeMap::new, Collectors.toList()));
  }

  private static Found seen(FoundAccount found) {
    return new Found(
        FoundAccounts.seen(found),
        found.nativeId(),
        Set.of("content", ProvisioningCommand.WHOLE),
        true);
  }

  private FoundAccount stray(DriftRow row) {
    var line = found.byNativeId(row.seenIn(), row.nativeId());
    if (line == null) {
      throw listIsGone();
    }
    return foundAccounts.of(row.seenIn(), List.of(line)).getFirst();
  }

  private static Refused listIsGone() {
    return new Refused(
        Refused.Reason.NOT_NOW,
        "What the application listed then is kept no longer; reconcile it again, then decide.");
  }

  private static List<Long> accounts(Collection<DriftRow> rows) {
    return rows.stream().map(DriftRow::accountId).filter(Objects::nonNull).distinct().toList();
  }

  private static List<Long> people(Collection<DriftRow> rows) {
    return rows.stream().map(DriftRow::personId).filter(Objects::nonNull).distinct().toList();
  }

  private static String entitlement(DriftRow row) {
    return row.aspect().substring(row.aspect().indexOf(':') + 1);
  }

  /** What is adopted by itself rests on nobody's decision, and gives back nothing revoked. */
  private GrantRow grant(long person, String entitlement, DriftRow row, Decider by, Instant now) {
    return new GrantRow(
        ids.next(),
        person,
        "entitlement",
        entitlement,
        Grant.Basis.DISCOVERED.word(),
        "drift:" + row.id(),
        by.login().equals(Actor.SERVICE.login()) ? null : now,
        now,
        null,
        "");
  }
}
