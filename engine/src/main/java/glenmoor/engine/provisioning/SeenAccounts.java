package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.AccountNames;
import glenmoor.core.provisioning.AccountOrder;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.Planner;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.Refused;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountOrderMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Takes what an application was found to have for what was seen of accounts, and plans them from
 * there. All of it inside the caller's transaction.
 */
@Named
public final class SeenAccounts {
  private static final JsonMapper JSON = JsonMapper.shared();

  /**
   * An account as it was found.
   *
   * @param seen {@link Account.Seen#NOTHING} for one that is gone
   * @param nativeId the application's identity for it
   * @param aspects the sides of which it is noted what was seen, as {@link
   *     ProvisioningCommand#aspect} names them; the others may have changed since
   * @param anew whether these sides are planned from there, so that what should be is brought back
   */
  public record Found(Account.Seen seen, String nativeId, Set<String> aspects, boolean anew) {}

  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final PersonMapper people;
  private final PersonSnapshots snapshots;
  private final Bulk bulk;
  private final AccountOrderMapper orders;
  private final Ids ids;

  /** No run of a playbook ordered it. */
  private static final long NO_RUN = 0;

  public SeenAccounts(
      AccountMapper accounts,
      OperationMapper operations,
      PersonMapper people,
      PersonSnapshots snapshots,
      AccountOrderMapper orders,
      Bulk bulk,
      Ids ids) {
    this.accounts = accounts;
    this.orders = orders;
    this.operations = operations;
    this.people = people;
    this.snapshots = snapshots;
    this.bulk = bulk;
    this.ids = ids;
  }

  /** Accounts as they are planned, by their identities; locks them. */
  public Map<Long, Account> locked(Collection<Long> wanted) {
    var found = new HashMap<Long, Account>();
    if (!wanted.isEmpty()) {
      snapshots
          .accounts(accounts.lock(wanted), Set.of())
          .forEach(account -> found.put(account.id(), account));
    }
    return found;
  }

  /** The same, to look at; those there are. */
  public List<Account> byIds(Collection<Long> wanted) {
    return wanted.isEmpty() ? List.of() : snapshots.accounts(accounts.byIds(wanted), Set.of());
  }

  /**
   * Notes what was found of accounts, and plans them from there.
   *
   * @param found by the accounts' identities
   */
  public void planFrom(Map<Long, Found> found, String cause, Instant now) {
    if (found.isEmpty()) {
      return;
    }
    var before = locked(found.keySet());
    var planned = new HashMap<Long, Account>();
    var gone = new ArrayList<Long>();
    before.forEach((id, account) -> {
      var here = Objects.requireNonNull(found.get(id));
      if (here.seen().state() == AccountState.NONE) {
        gone.add(id);
      } else {
        var after = account.seeing(merged(account.seen(), here));
        for (var aspect : here.anew() ? here.aspects() : Set.<String>of()) {
          after = after.asSeen(aspect);
        }
        planned.put(id, after);
      }
    });
    if (!gone.isEmpty()) {
      accounts.gone(gone);
      accounts.nothingObserved(gone);
    }
    if (!planned.isEmpty()) {
      PlannedAccounts.keep(accounts, planned);
      note(planned, found, now);
    }
    people.dueFor(
        before.values().stream().map(account -> account.person().value()).toList(), now, cause);
  }

  /** What was seen of some sides, and of the others before. */
  private static Account.Seen merged(Account.Seen before, Found found) {
    var seen = found.seen();
    var sides = found.aspects();
    var whole = sides.contains(ProvisioningCommand.WHOLE);
    var content = whole || sides.contains("content");
    var entitlements = new TreeSet<>(whole ? seen.entitlements() : before.entitlements());
    for (var side : sides) {
      if (side.startsWith("entitlement:")) {
        var key = side.substring("entitlement:".length());
        entitlements.remove(key);
        if (seen.entitlements().contains(key)) {
          entitlements.add(key);
        }
      }
    }
    return new Account.Seen(
        whole || sides.contains("enabled") ? seen.state() : before.state(),
        content ? seen.name() : before.name(),
        content ? seen.container() : before.container(),
        content ? seen.attributes() : before.attributes(),
        entitlements);
  }

  private void note(Map<Long, Account> planned, Map<Long, Found> found, Instant now) {
    var seen = new ArrayList<AccountMapper.Seen>();
    var observed = new ArrayList<AccountMapper.Observed>();
    var at = SqlTime.write(now);
    planned.forEach((id, account) -> {
      var here = account.seen();
      seen.add(
          new AccountMapper.Seen(
              id,
              account.application(),
              here.state().word(),
              here.name(),
              here.container(),
              CanonicalJson.write(here.attributes()),
              Objects.requireNonNull(found.get(id)).nativeId()));
      var keys = new TreeSet<>(account.entitlements());
      keys.addAll(here.entitlements());
      keys.forEach(key ->
          observed.add(
              new AccountMapper.Observed(id, key, here.entitlements().contains(key) ? 1 : 0, at)));
    });
    accounts.seen(JSON.writeValueAsString(seen));
    if (!observed.isEmpty()) {
      accounts.observe(JSON.writeValueAsString(observed));
    }
  }

  /**
   * Takes an account that was nobody's for a person's, and changes nothing in it: whether it is
   * open, its attributes and its name stay as they were found. What Glenmoor would have otherwise
   * is drift, and is decided on like any other.
   *
   * @return the account's identity
   * @throws Refused if the person has an account there, or something is being done for it
   */
  public long adopt(
      PersonSnapshot person,
      Application application,
      Found found,
      Catalogue catalogue,
      String cause,
      Instant now) {
    var known = adoptable(person, application, found, now);
    var name = found.seen().name();
    var id = known.map(AccountRow::id).orElseGet(ids::next);
    var row = row(id, person, application, found, catalogue, known.orElse(null));
    if (known.isEmpty()) {
      bulk.insert("account", List.of(row));
    } else {
      overtake(id, now);
      free(application, known.get(), now);
      accounts.update(List.of(row));
    }
    take(application, id, name, base(application, person, found, catalogue), now);
    orders.begin(
        ids.next(),
        person.person().id().value(),
        application.key(),
        AccountOrder.Kind.LEAVE.word(),
        NO_RUN,
        now);
    planFrom(Map.of(id, found), cause, now);
    return id;
  }

  /**
   * Whether an account that is nobody's could be a person's: asked before the application is told.
   *
   * @return the account that is planned for them there and was not made yet
   * @throws Refused if it could not
   */
  public Optional<AccountRow> adoptable(
      PersonSnapshot person, Application application, Found found, Instant now) {
    var owner = person.person();
    var known =
        accounts.of(List.of(owner.id().value())).stream()
            .filter(row -> row.application().equals(application.key()))
            .findFirst();
    if (known.filter(row -> !row.seenState().equals(AccountState.NONE.word())).isPresent()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s has the account %s in %s already; one person has one account there."
              .formatted(owner.worker().value(), known.get().name(), application.name()));
    }
    var name = found.seen().name();
    var holder =
        accounts
            .holders(
                application.key(),
                List.of(AccountNames.key(name)),
                NameBook.cutoff(application, now))
            .stream()
            .findFirst()
            .map(AccountMapper.Holder::accountId)
            .filter(id -> known.filter(row -> row.id().equals(id)).isEmpty());
    if (holder.isPresent()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "The name %s is somebody else's in %s; rename one of the two accounts, then reconcile again."
              .formatted(name, application.name()));
    }
    return known;
  }

  private static AccountRow row(
      long id,
      PersonSnapshot person,
      Application application,
      Found found,
      Catalogue catalogue,
      @Nullable AccountRow known) {
    return new AccountRow(
        id,
        person.person().id().value(),
        application.key(),
        base(application, person, found, catalogue),
        Account.AS_FOUND,
        found.seen().name(),
        found.seen().container(),
        CanonicalJson.write(found.seen().attributes()),
        found.seen().state().word(),
        AccountState.NONE.word(),
        "",
        "",
        "{}",
        null,
        null,
        known == null ? 1 : known.nextSequence());
  }

  private void free(Application application, AccountRow known, Instant now) {
    accounts.freeNames(
        JSON.writeValueAsString(
            List.of(
                new AccountMapper.Name(
                    application.key(),
                    AccountNames.key(known.name()),
                    known.name(),
                    known.baseName(),
                    known.number(),
                    known.id(),
                    SqlTime.write(now)))),
        now);
  }

  private static String base(
      Application application, PersonSnapshot person, Found found, Catalogue catalogue) {
    try {
      return Planner.baseName(application, person, catalogue);
    } catch (Unanswerable unmade) {
      return found.seen().name();
    }
  }

  private void take(Application application, long account, String name, String base, Instant now) {
    var names =
        JSON.writeValueAsString(
            List.of(
                new AccountMapper.Name(
                    application.key(),
                    AccountNames.key(name),
                    name,
                    base,
                    Account.AS_FOUND,
                    account,
                    SqlTime.write(NameBook.cutoff(application, now)))));
    accounts.clearNames(names);
    accounts.takeNames(names);
  }

  /** What waits to make the account is not needed any more: it is there. */
  private void overtake(long account, Instant now) {
    var lanes = List.of(account);
    if (operations.leased(lanes).stream().anyMatch(OperationMapper.Leased::inHand)) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Something is being done for that account at this moment; look again shortly.");
    }
    var over =
        operations.open(lanes).stream()
            .map(row ->
                ResultBatch.row(
                    row.id(),
                    new OperationState.Superseded(
                        now, OperationState.NOBODY, "the account was found and adopted"),
                    null))
            .toList();
    if (!over.isEmpty()) {
      operations.record(JSON.writeValueAsString(over));
      operations.look(lanes);
    }
  }
}
