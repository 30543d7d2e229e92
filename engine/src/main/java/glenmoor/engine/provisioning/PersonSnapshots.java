package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.access.Revocation;
import glenmoor.core.applications.AccountState;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.provisioning.AcceptedDeviation;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.AccountOrder;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.access.RevocationMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountOrderMapper;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;

/** Loads what planning has to know of people, seven queries a batch. */
@Named
public final class PersonSnapshots {
  private static final Duration LATELY = Duration.ofDays(2);

  private final GrantMapper grants;
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final AccountOrderMapper orders;
  private final RevocationMapper revocations;
  private final Clock clock;

  public PersonSnapshots(
      GrantMapper grants,
      AccountMapper accounts,
      OperationMapper operations,
      AccountOrderMapper orders,
      RevocationMapper revocations,
      Clock clock) {
    this.revocations = revocations;
    this.clock = clock;
    this.orders = orders;
    this.grants = grants;
    this.accounts = accounts;
    this.operations = operations;
  }

  /**
   * One picture for each row, in the same order, to decide by.
   *
   * @throws FactsJson.Unreadable if a fact of somebody is not of its type; of those who were cut
   *     off none is needed, and none may keep their access
   */
  public List<PersonSnapshot> of(List<PersonRow> rows, Catalogue catalogue) {
    return of(
        rows,
        row ->
            row.cutOffOn() == null
                ? FactsJson.exactPerson(row, catalogue.facts())
                : FactsJson.person(row, catalogue.facts()),
        this::lasting);
  }

  /** The same, to show, or to be given other facts. */
  public List<PersonSnapshot> shown(List<PersonRow> rows, Catalogue catalogue) {
    return of(rows, row -> FactsJson.person(row, catalogue.facts()), this::lasting);
  }

  /** The same with what they had before, which planning has no use for. */
  public List<PersonSnapshot> withPast(List<PersonRow> rows, Catalogue catalogue) {
    return of(rows, row -> FactsJson.person(row, catalogue.facts()), grants::of);
  }

  /** With those that ended lately: what is taken now may follow from one of them. */
  private List<GrantRow> lasting(Collection<Long> ids) {
    return grants.lasting(ids, clock.instant().minus(LATELY));
  }

  private List<PersonSnapshot> of(
      List<PersonRow> rows,
      Function<PersonRow, Person> person,
      Function<Collection<Long>, List<GrantRow>> grantRows) {
    if (rows.isEmpty()) {
      return List.of();
    }
    var ids = rows.stream().map(PersonRow::id).toList();
    var grantsOf = new HashMap<Long, List<Grant>>();
    grantRows
        .apply(ids)
        .forEach(row ->
            grantsOf.computeIfAbsent(row.personId(), id -> new ArrayList<>()).add(grant(row)));
    var accountsOf = accountsOf(ids);
    var deviationsOf = new HashMap<Long, List<AcceptedDeviation>>();
    operations
        .deviationsOf(ids)
        .forEach(row ->
            deviationsOf
                .computeIfAbsent(row.personId(), id -> new ArrayList<>())
                .add(
                    new AcceptedDeviation(row.id(), row.accountId(), row.aspect(), row.untilAt())));
    var ordersOf = new HashMap<Long, List<AccountOrder>>();
    orders
        .of(ids)
        .forEach(row ->
            ordersOf
                .computeIfAbsent(row.personId(), id -> new ArrayList<>())
                .add(
                    new AccountOrder(
                        row.application(), AccountOrder.Kind.ofWord(row.kind()), row.since())));
    var revokedOf = new HashMap<Long, List<Revocation>>();
    revocations
        .standing(ids)
        .forEach(row ->
            revokedOf
                .computeIfAbsent(row.personId(), id -> new ArrayList<>())
                .add(row.revocation()));
    return rows.stream()
        .map(row ->
            new PersonSnapshot(
                person.apply(row),
                grantsOf.getOrDefault(row.id(), List.of()),
                accountsOf.getOrDefault(row.id(), List.of()),
                deviationsOf.getOrDefault(row.id(), List.of()),
                ordersOf.getOrDefault(row.id(), List.of()),
                revokedOf.getOrDefault(row.id(), List.of())))
        .toList();
  }

  private HashMap<Long, List<Account>> accountsOf(Collection<Long> ids) {
    var accountsOf = new HashMap<Long, List<Account>>();
    var rows = accounts.of(ids);
    if (rows.isEmpty()) {
      return accountsOf;
    }
    var unmade = new HashSet<>(accounts.unmade(ids));
    accounts(rows, unmade)
        .forEach(account ->
            accountsOf
                .computeIfAbsent(account.person().value(), id -> new ArrayList<>())
                .add(account));
    return accountsOf;
  }

  /** Accounts as core knows them. */
  List<Account> accounts(List<AccountRow> rows, Set<Long> unmade) {
    var desired = new HashMap<Long, TreeSet<String>>();
    var observed = new HashMap<Long, TreeSet<String>>();
    accounts
        .holdings(rows.stream().map(AccountRow::id).toList())
        .forEach(row -> {
          if (row.desired()) {
            desired.computeIfAbsent(row.accountId(), id -> new TreeSet<>()).add(row.entitlement());
          }
          if (row.observed()) {
            observed.computeIfAbsent(row.accountId(), id -> new TreeSet<>()).add(row.entitlement());
          }
        });
    return rows.stream()
        .map(row ->
            account(
                row,
                desired.getOrDefault(row.id(), new TreeSet<>()),
                observed.getOrDefault(row.id(), new TreeSet<>()),
                unmade.contains(row.id())))
        .toList();
  }

  private static Account account(
      AccountRow row, TreeSet<String> desired, TreeSet<String> observed, boolean unmade) {
    return new Account(
        row.id(),
        new PersonId(row.personId()),
        row.application(),
        row.baseName(),
        row.number(),
        row.name(),
        row.container(),
        CommandJson.attributesOf(row.attributes()),
        AccountState.ofWord(row.state()),
        desired,
        row.unneededSince(),
        row.nextSequence(),
        unmade,
        new Account.Seen(
            AccountState.ofWord(row.seenState()),
            row.seenName(),
            row.seenContainer(),
            CommandJson.attributesOf(row.seenAttributes()),
            observed));
  }

  /** A grant as core knows it. */
  public static Grant grant(GrantRow row) {
    return new Grant(
        row.id(),
        new PersonId(row.personId()),
        row.target(),
        Basis.ofWord(row.basis()),
        row.basisKey(),
        row.decidedAt(),
        row.startsAt(),
        row.endsAt(),
        row.endReason(),
        Set.of());
  }

  /** A grant as it is kept. */
  static GrantRow row(long id, Grant grant) {
    return new GrantRow(
        id,
        grant.person().value(),
        switch (grant.target()) {
          case Target.OfPackage p -> "package";
          case Target.OfEntitlement e -> "entitlement";
        },
        grant.target().key(),
        grant.basis().word(),
        grant.basisKey(),
        grant.decidedAt(),
        grant.startsAt(),
        grant.endsAt(),
        grant.endReason());
  }
}
