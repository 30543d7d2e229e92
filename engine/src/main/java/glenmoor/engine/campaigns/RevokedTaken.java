package glenmoor.engine.campaigns;

import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.ItemState;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.provisioning.Account;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.access.Revoking.Decision;
import glenmoor.engine.access.Revoking.Taken;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.provisioning.SeenAccounts;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Takes what was revoked once its time has come, many people at once, and confirms what is not
 * there any more. Each part is harmless if done twice.
 */
@Named
final class RevokedTaken {
  private static final int AT_ONCE = 500;

  private final ItemMapper items;
  private final RoundMapper rounds;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final Revoking revoking;
  private final SeenAccounts seen;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  RevokedTaken(
      ItemMapper items,
      RoundMapper rounds,
      PersonMapper people,
      AccountMapper accounts,
      OperationMapper operations,
      Revoking revoking,
      SeenAccounts seen,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.items = items;
    this.rounds = rounds;
    this.people = people;
    this.accounts = accounts;
    this.operations = operations;
    this.revoking = revoking;
    this.seen = seen;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Takes all that is due; how much it was. */
  int take() {
    var taken = 0;
    List<ItemRow> batch;
    do {
      batch =
          transactions.run(() -> {
            var due = items.toTake(clock.instant(), AT_ONCE);
            take(due);
            return due;
          });
      taken += batch.size();
    } while (batch.size() == AT_ONCE);
    return taken;
  }

  /** By whom, in which round, and when it was signed off: what is kept with what ends. */
  private record Why(long round, String by, Instant decidedAt) {}

  private void take(List<ItemRow> due) {
    if (due.isEmpty()) {
      return;
    }
    var now = clock.instant();
    var ids =
        due.stream().map(ItemRow::personId).filter(Objects::nonNull).distinct().sorted().toList();
    // Accounts that are nobody's have no person.
    var persons =
        ids.isEmpty()
            ? Map.<Long, PersonRow>of()
            : people.lock(ids).stream().collect(Collectors.toMap(PersonRow::id, row -> row));
    var byWhy =
        due.stream()
            .collect(
                Collectors.groupingBy(item ->
                    new Why(
                        item.roundId(),
                        item.decidedBy(),
                        Objects.requireNonNullElse(item.settledAt(), now))));
    byWhy.forEach((why, its) -> {
      var round = Objects.requireNonNull(rounds.byId(why.round()));
      take(its, round, why, persons, now);
    });
    items.taken(due.stream().map(ItemRow::id).toList(), now);
  }

  private void take(
      List<ItemRow> its, RoundRow round, Why why, Map<Long, PersonRow> persons, Instant now) {
    revoke(its, round, why.by(), why.decidedAt(), now, persons, now);
    unexplained(its, round, now);
  }

  /**
   * Writes the revocations of a review down when it is signed off, so that they hold whatever
   * happens until they act: of what is announced, and of what was decided and ended by itself
   * before, since its holder left or moved.
   */
  void announced(long reviewer, RoundRow round, Instant now) {
    for (var state : List.of(ItemState.ANNOUNCED, ItemState.ENDED)) {
      var after = 0L;
      List<ItemRow> page;
      do {
        page =
            items.search(
                ItemSearch.of(
                    reviewer, round.id(), state.word(), Judgement.REVOKE.word(), after, AT_ONCE));
        // What its holder has answered waits for its reviewer.
        announced(page.stream().filter(item -> item.answer().isEmpty()).toList(), round, now);
        after = page.isEmpty() ? after : page.getLast().id();
      } while (page.size() == AT_ONCE);
    }
  }

  private void announced(List<ItemRow> page, RoundRow round, Instant now) {
    var ids = page.stream().map(ItemRow::personId).filter(Objects::nonNull).distinct().toList();
    if (ids.isEmpty()) {
      return;
    }
    var persons = people.byIds(ids).stream().collect(Collectors.toMap(PersonRow::id, row -> row));
    page.stream()
        .collect(
            Collectors.groupingBy(item -> new Why(round.id(), item.decidedBy(), at(item, now))))
        .forEach((why, its) ->
            its.stream()
                .collect(
                    Collectors.groupingBy(
                        item -> Objects.requireNonNullElse(item.actsAt(), why.decidedAt())))
                .forEach((from, those) ->
                    revoke(those, round, why.by(), why.decidedAt(), from, persons, now)));
  }

  /** What ended by itself was decided when its reviewer said so; the rest by signing off. */
  private static Instant at(ItemRow item, Instant now) {
    return item.state().equals(ItemState.ENDED.word())
        ? Objects.requireNonNullElse(item.decidedAt(), now)
        : now;
  }

  private void revoke(
      Collection<ItemRow> its,
      RoundRow round,
      String by,
      Instant decidedAt,
      Instant from,
      Map<Long, PersonRow> persons,
      Instant now) {
    var byPerson = new TreeMap<Long, List<ItemRow>>();
    its.stream()
        .filter(item -> item.personId() != null)
        .forEach(item ->
            byPerson
                .computeIfAbsent(Objects.requireNonNull(item.personId()), id -> new ArrayList<>())
                .add(item));
    var held = revoking.held(byPerson.keySet(), now);
    var taken = new ArrayList<Taken>();
    byPerson.forEach((id, of) -> {
      var person = persons.get(id);
      if (person != null) {
        taken.add(taken(person, of, held.getOrDefault(id, List.of())));
      }
    });
    revoking.revoke(
        taken,
        new Decision("revoked in “%s”".formatted(round.name()), by, cause(round), decidedAt, from),
        now);
  }

  private static String cause(RoundRow round) {
    return "round:" + round.id();
  }

  /** Somebody answered, or it is kept after all: nothing is taken meanwhile. */
  void withdrawn(ItemRow item, RoundRow round, String reason, String by, Instant now) {
    var person = item.personId();
    if (person != null) {
      // Of an account, the entitlements in its application were revoked; what another item of the
      // round takes is written down again when that one acts.
      Predicate<String> its =
          item.kind().equals("account")
              ? key -> key.startsWith(item.application() + "/")
              : item.targetKey()::equals;
      revoking.lift(person, its, cause(round), reason, by, now);
    }
  }

  /** What is taken from somebody: rights, packages, and all rights of an account. */
  Taken taken(PersonRow person, Collection<ItemRow> its, Collection<Grant> held) {
    var catalogue = catalogues.current();
    var rights = new TreeSet<String>();
    var packages = new TreeSet<String>();
    for (var item : its) {
      switch (item.kind()) {
        case "package" -> packages.add(item.targetKey());
        case "account" ->
            held.stream()
                .flatMap(catalogue::given)
                .filter(each -> each.application().equals(item.application()))
                .map(Entitlement::key)
                .forEach(rights::add);
        default -> rights.add(item.targetKey());
      }
    }
    return new Taken(person, rights, packages);
  }

  /** What is there and nothing gives has nothing that could end: it is planned as it was seen. */
  private void unexplained(List<ItemRow> its, RoundRow round, Instant now) {
    var byAccount = new HashMap<Long, Set<String>>();
    its.stream()
        .filter(item -> item.kind().equals("entitlement") && item.accountId() != null)
        .forEach(item ->
            byAccount
                .computeIfAbsent(Objects.requireNonNull(item.accountId()), id -> new HashSet<>())
                .add(item.targetKey()));
    if (byAccount.isEmpty()) {
      return;
    }
    var known = seen.locked(byAccount.keySet());
    var busy =
        operations.open(byAccount.keySet()).stream()
            .map(row -> row.accountId())
            .collect(Collectors.toSet());
    var found = new HashMap<Long, SeenAccounts.Found>();
    var natives = new HashMap<Long, String>();
    for (var row : accounts.byIds(byAccount.keySet())) {
      var nativeId = row.nativeId();
      if (nativeId != null) {
        natives.put(row.id(), nativeId);
      }
    }
    known.forEach((id, account) -> {
      var sides = extra(account, byAccount.getOrDefault(id, Set.of()));
      var nativeId = natives.get(id);
      if (!sides.isEmpty() && nativeId != null && !busy.contains(id)) {
        found.put(id, new SeenAccounts.Found(account.seen(), nativeId, sides, true));
      }
    });
    seen.planFrom(found, cause(round), now);
  }

  private static Set<String> extra(Account account, Set<String> rights) {
    return rights.stream()
        .filter(key ->
            account.seen().entitlements().contains(key) && !account.entitlements().contains(key))
        .map(key -> "entitlement:" + key)
        .collect(Collectors.toSet());
  }

  /** Confirms what is gone, and what was given anew; how much it was. */
  int confirm() {
    if (!items.following()) {
      return 0;
    }
    return transactions.run(() -> {
      var now = clock.instant();
      return items.gone(now)
          + items.gonePackages(now)
          + items.goneAccounts(now)
          + items.goneStrays(now)
          + items.goneServices(now)
          + items.again(now);
    });
  }
}
