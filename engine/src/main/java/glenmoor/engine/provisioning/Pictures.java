package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.applications.AccountState;
import glenmoor.core.people.PersonId;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.PersonPicture;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.TreeSet;

/** Loads what planning has to know of people, three queries a batch. */
public final class Pictures {
  private final GrantMapper grants;
  private final AccountMapper accounts;

  public Pictures(GrantMapper grants, AccountMapper accounts) {
    this.grants = grants;
    this.accounts = accounts;
  }

  /** One picture for each row, in the same order. */
  public List<PersonPicture> of(List<PersonRow> rows, Catalogue catalogue) {
    if (rows.isEmpty()) {
      return List.of();
    }
    var ids = rows.stream().map(PersonRow::id).toList();
    var grantsOf = new HashMap<Long, List<Grant>>();
    grants
        .of(ids)
        .forEach(row ->
            grantsOf.computeIfAbsent(row.personId(), id -> new ArrayList<>()).add(grant(row)));
    var accountsOf = accountsOf(ids);
    return rows.stream()
        .map(row ->
            new PersonPicture(
                FactsJson.person(row, catalogue.facts()),
                grantsOf.getOrDefault(row.id(), List.of()),
                accountsOf.getOrDefault(row.id(), List.of())))
        .toList();
  }

  private HashMap<Long, List<Account>> accountsOf(Collection<Long> ids) {
    var rows = accounts.of(ids);
    var held = new HashMap<Long, TreeSet<String>>();
    if (!rows.isEmpty()) {
      accounts.holdings(rows.stream().map(AccountRow::id).toList()).stream()
          .filter(AccountMapper.HoldingRow::wanted)
          .forEach(row ->
              held.computeIfAbsent(row.accountId(), id -> new TreeSet<>()).add(row.entitlement()));
    }
    var accountsOf = new HashMap<Long, List<Account>>();
    for (var row : rows) {
      accountsOf
          .computeIfAbsent(row.personId(), id -> new ArrayList<>())
          .add(account(row, held.getOrDefault(row.id(), new TreeSet<>())));
    }
    return accountsOf;
  }

  private static Account account(AccountRow row, TreeSet<String> entitlements) {
    return new Account(
        row.id(),
        new PersonId(row.personId()),
        row.application(),
        row.baseName(),
        row.number(),
        row.container(),
        OrderJson.attributesOf(row.attributes()),
        AccountState.ofWord(row.state()),
        entitlements,
        row.heldSince(),
        row.nextSequence());
  }

  /** A grant as core knows it. */
  static Grant grant(GrantRow row) {
    return new Grant(
        row.id(),
        new PersonId(row.personId()),
        row.targetKind().equals("package")
            ? new Target.OfPackage(row.targetKey())
            : new Target.OfEntitlement(row.targetKey()),
        Basis.ofWord(row.basis()),
        row.basisKey(),
        row.startsAt(),
        row.endsAt(),
        row.endReason());
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
        grant.startsAt(),
        grant.endsAt(),
        grant.endReason());
  }
}
