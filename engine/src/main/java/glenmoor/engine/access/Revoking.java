package glenmoor.engine.access;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.access.Revocation;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.RevocationMapper;
import glenmoor.store.access.RevocationMapper.RevocationRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.NullMarked;

/**
 * Writes down that people shall not hold something, many people at once. Planning reads that like
 * any other fact: it ends the grants that give nothing else, leaves the rest without it, and finds
 * what the applications have too much. Inside the caller's transaction.
 */
@Named
@NullMarked
public final class Revoking {
  /**
   * What is taken from one person.
   *
   * @param entitlements by themselves
   * @param packages as a whole
   */
  public record Taken(PersonRow person, Set<String> entitlements, Set<String> packages) {
    private List<Target> targets() {
      return Stream.concat(
              new TreeSet<>(packages).stream().map(key -> (Target) new Target.OfPackage(key)),
              new TreeSet<>(entitlements).stream().map(key -> new Target.OfEntitlement(key)))
          .toList();
    }
  }

  /**
   * Who decided it, and when.
   *
   * @param cause what it was decided in, such as {@code round:17}; it is written down once a cause
   * @param decidedAt what is decided after this gives it again
   * @param from when it takes effect
   */
  public record Decision(String reason, String by, String cause, Instant decidedAt, Instant from) {}

  /**
   * What taking something comes to.
   *
   * @param ended grants that end
   * @param reduced grants that go on without some of what they give
   */
  public record Effect(List<Grant> ended, List<Grant> reduced) {}

  private final GrantMapper grants;
  private final RevocationMapper revocations;
  private final PersonMapper people;
  private final Catalogues catalogues;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  Revoking(
      GrantMapper grants,
      RevocationMapper revocations,
      PersonMapper people,
      Catalogues catalogues,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    this.grants = grants;
    this.revocations = revocations;
    this.people = people;
    this.catalogues = catalogues;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
  }

  /** What people hold by grants that are not over, without what is revoked; by person. */
  public Map<Long, List<Grant>> held(Collection<Long> persons, Instant now) {
    var byPerson = new HashMap<Long, List<Grant>>();
    if (persons.isEmpty()) {
      return byPerson;
    }
    var catalogue = catalogues.current();
    var revoked = new HashMap<Long, List<Revocation>>();
    revocations
        .standing(persons)
        .forEach(row ->
            revoked.computeIfAbsent(row.personId(), id -> new ArrayList<>()).add(row.revocation()));
    grants
        .lasting(persons, now)
        .forEach(row ->
            byPerson
                .computeIfAbsent(row.personId(), id -> new ArrayList<>())
                .add(PersonSnapshots.grant(row)));
    byPerson.replaceAll(
        (id, all) -> Revocation.applied(all, revoked.getOrDefault(id, List.of()), catalogue, now));
    return byPerson;
  }

  /** What taking something from somebody would come to. */
  public static Effect would(Taken taken, List<Grant> held, Catalogue catalogue, Instant now) {
    var revoked =
        taken.targets().stream()
            .map(target -> new Revocation(0, target, now, now, null, ""))
            .toList();
    var ended =
        Revocation.ended(held, revoked, catalogue, now).stream()
            .map(Revocation.Ended::grant)
            .toList();
    var over = ended.stream().map(Grant::id).collect(Collectors.toSet());
    var left =
        Revocation.applied(held, revoked, catalogue, now).stream()
            .collect(Collectors.toMap(Grant::id, grant -> gives(grant, catalogue)));
    var reduced =
        held.stream()
            .filter(grant -> !over.contains(grant.id()))
            .filter(grant -> !gives(grant, catalogue).equals(left.get(grant.id())))
            .toList();
    return new Effect(ended, reduced);
  }

  private static Set<String> gives(Grant grant, Catalogue catalogue) {
    return catalogue.given(grant).map(Entitlement::key).collect(Collectors.toSet());
  }

  /** Writes down that people shall not hold something, and has them planned for. */
  public void revoke(Collection<Taken> all, Decision decision, Instant now) {
    if (all.isEmpty()) {
      return;
    }
    var persons = all.stream().map(each -> each.person().id()).distinct().sorted().toList();
    var known = new HashSet<String>();
    revocations.standing(persons).stream()
        .filter(row -> row.cause().equals(decision.cause()))
        .forEach(row -> known.add(row.personId() + " " + row.target()));
    var rows = new ArrayList<RevocationRow>();
    var entries = new ArrayList<LedgerEntry>();
    for (var taken : all) {
      for (var target : taken.targets()) {
        if (known.add(taken.person().id() + " " + target)) {
          rows.add(row(taken.person(), target, decision));
          entries.add(
              entry(
                  taken.person(),
                  decision.by(),
                  decision.cause(),
                  "revoked",
                  Map.of(
                      "target",
                      target.key(),
                      "from",
                      decision.from().toString(),
                      "reason",
                      decision.reason()),
                  now));
        }
      }
    }
    bulk.insert("revocation", rows);
    people.dueFor(persons, now, decision.cause());
    ledger.append(entries);
  }

  private RevocationRow row(PersonRow person, Target target, Decision decision) {
    return new RevocationRow(
        ids.next(),
        person.id(),
        switch (target) {
          case Target.OfPackage p -> "package";
          case Target.OfEntitlement e -> "entitlement";
        },
        target.key(),
        decision.decidedAt(),
        decision.by(),
        decision.from(),
        null,
        decision.cause(),
        decision.reason(),
        null,
        "",
        "");
  }

  /** Lifts what was decided in one cause about some things, by their keys. */
  public void lift(
      long person,
      Predicate<String> targetKey,
      String cause,
      String reason,
      String by,
      Instant now) {
    revocations.ofCause(person, cause).stream()
        .filter(row -> targetKey.test(row.targetKey()))
        .forEach(row -> lift(row.id(), reason, by, now));
  }

  /**
   * Lifts a revocation: what would give it gives it again.
   *
   * @return whether it counted until now
   */
  public boolean lift(long id, String reason, String by, Instant now) {
    var row = revocations.lock(id);
    if (row == null) {
      return false;
    }
    var cause = "revocation:" + id;
    revocations.release(id, by, reason, now);
    people.dueFor(List.of(row.personId()), now, cause);
    var person = people.byIds(List.of(row.personId())).getFirst();
    ledger.append(
        entry(
            person,
            by,
            cause,
            "revocation-lifted",
            Map.of("target", row.targetKey(), "reason", reason),
            now));
    return true;
  }

  /** Lifts a revocation from a moment on that is still to come. */
  public void holdUntil(RevocationRow row, Instant until, String reason, String by, Instant now) {
    var cause = "revocation:" + row.id();
    revocations.until(row.id(), until, by, reason);
    people.dueFor(List.of(row.personId()), now, cause);
    ledger.append(
        entry(
            people.byIds(List.of(row.personId())).getFirst(),
            by,
            cause,
            "revocation-ends",
            Map.of("target", row.targetKey(), "until", until.toString(), "reason", reason),
            now));
  }

  private static LedgerEntry entry(
      PersonRow person,
      String by,
      String cause,
      String what,
      Map<String, Object> after,
      Instant now) {
    return new LedgerEntry(
        now, by, cause, "person:" + person.workerNumber(), what, Map.of(), after);
  }
}
