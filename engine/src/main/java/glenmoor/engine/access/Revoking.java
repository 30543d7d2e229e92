package glenmoor.engine.access;

import glenmoor.core.access.CarveOut;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Revocation;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.access.CarveOutMapper;
import glenmoor.store.access.CarveOutMapper.CarveOutRow;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.NullMarked;
import tools.jackson.databind.json.JsonMapper;

/**
 * Takes rights from people for good, many people at once: what gives them ends or loses them, and
 * no rule gives them back until that is released. Planning then finds what the applications have
 * too much. Inside the caller's transaction.
 */
@Named
@NullMarked
public final class Revoking {
  private static final JsonMapper JSON = JsonMapper.shared();

  /**
   * What is taken from one person.
   *
   * @param entitlements rights by themselves
   * @param packages as a whole
   */
  public record Taken(PersonRow person, Set<String> entitlements, Set<String> packages) {}

  private final GrantMapper grants;
  private final CarveOutMapper carveOuts;
  private final PersonMapper people;
  private final Catalogues catalogues;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  Revoking(
      GrantMapper grants,
      CarveOutMapper carveOuts,
      PersonMapper people,
      Catalogues catalogues,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    this.grants = grants;
    this.carveOuts = carveOuts;
    this.people = people;
    this.catalogues = catalogues;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
  }

  /** What people hold by grants, without what was carved out of them; by person. */
  public Map<Long, List<Grant>> held(Collection<Long> persons, Instant now) {
    var byPerson = new HashMap<Long, List<Grant>>();
    if (persons.isEmpty()) {
      return byPerson;
    }
    var carved = new HashMap<Long, List<CarveOut>>();
    carveOuts
        .inForce(persons)
        .forEach(row ->
            carved.computeIfAbsent(row.personId(), id -> new ArrayList<>()).add(row.carveOut()));
    grants
        .lasting(persons, now)
        .forEach(row ->
            byPerson
                .computeIfAbsent(row.personId(), id -> new ArrayList<>())
                .add(PersonSnapshots.grant(row)));
    byPerson.replaceAll((id, all) -> CarveOut.of(all, carved.getOrDefault(id, List.of())));
    return byPerson;
  }

  /** What taking something from somebody comes to. */
  public static List<Revocation> would(
      Taken taken, List<Grant> held, Catalogue catalogue, Instant now) {
    var all = new ArrayList<Revocation>();
    var left = held;
    for (var key : new TreeSet<>(taken.packages())) {
      var one = Revocation.ofPackage(left, key, catalogue, now);
      all.add(one);
      left = without(left, one);
    }
    all.add(Revocation.ofRights(left, taken.entitlements(), catalogue, now));
    return all;
  }

  private static List<Grant> without(List<Grant> grants, Revocation taken) {
    var ended = taken.ended().stream().map(Grant::id).collect(Collectors.toSet());
    return CarveOut.of(
        grants.stream().filter(grant -> !ended.contains(grant.id())).toList(), taken.carved());
  }

  /**
   * Takes it.
   *
   * @param by who decided it
   * @param cause what it was decided in, such as {@code campaign:17}
   * @return for whom there was nothing to end or carve out
   */
  public List<PersonRow> take(
      Collection<Taken> all, String reason, String by, String cause, Instant now) {
    var catalogue = catalogues.current();
    var held = held(all.stream().map(each -> each.person().id()).distinct().toList(), now);
    var ends = new ArrayList<GrantMapper.Ended>();
    var carved = new ArrayList<CarveOutRow>();
    var entries = new ArrayList<LedgerEntry>();
    var nothing = new ArrayList<PersonRow>();
    for (var taken : all) {
      var person = taken.person();
      var of = would(taken, held.getOrDefault(person.id(), List.of()), catalogue, now);
      if (of.stream().allMatch(Revocation::isEmpty)) {
        nothing.add(person);
      }
      for (var revocation : of) {
        revocation
            .ended()
            .forEach(grant -> {
              ends.add(new GrantMapper.Ended(grant.id(), SqlTime.write(now), reason));
              entries.add(
                  entry(
                      person,
                      by,
                      cause,
                      "grant-ended",
                      Map.of(
                          "target",
                          grant.target().key(),
                          "endsAt",
                          now.toString(),
                          "reason",
                          reason),
                      now));
            });
        revocation
            .carved()
            .forEach(each -> {
              carved.add(row(person, each, reason, by, cause, now));
              entries.add(
                  entry(
                      person,
                      by,
                      cause,
                      "carved-out",
                      Map.of(
                          "entitlement",
                          each.entitlement(),
                          "grant",
                          each.grant(),
                          "reason",
                          reason),
                      now));
            });
      }
    }
    if (!ends.isEmpty()) {
      grants.end(JSON.writeValueAsString(ends));
    }
    bulk.insert("carve_out", carved);
    if (!held.isEmpty()) {
      people.dueFor(held.keySet(), now, cause);
    }
    ledger.append(entries);
    return nothing;
  }

  private CarveOutRow row(
      PersonRow person, CarveOut carveOut, String reason, String by, String cause, Instant now) {
    return new CarveOutRow(
        ids.next(),
        person.id(),
        carveOut.entitlement(),
        carveOut.grant(),
        now,
        by,
        cause,
        reason,
        null,
        "",
        "");
  }

  /**
   * Releases a carve-out: what would give the right gives it again.
   *
   * @return whether it counted until now
   */
  public boolean release(long id, String reason, String by, Instant now) {
    var row = carveOuts.lock(id);
    if (row == null) {
      return false;
    }
    carveOuts.release(id, by, reason, now);
    people.dueFor(List.of(row.personId()), now, "carve-out:" + id);
    var person = Objects.requireNonNull(people.byIds(List.of(row.personId())).getFirst());
    ledger.append(
        entry(
            person,
            by,
            "carve-out:" + id,
            "carve-out-released",
            Map.of("entitlement", row.entitlement(), "reason", reason),
            now));
    return true;
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
