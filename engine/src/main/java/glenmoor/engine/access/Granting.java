package glenmoor.engine.access;

import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Begins, lengthens and ends grants that were asked for or given directly. Each is what a decision
 * comes to; planning then finds what the applications lack. Inside the caller's transaction.
 */
@Named
@NullMarked
public final class Granting {
  private static final JsonMapper JSON = JsonMapper.shared();

  private final GrantMapper grants;
  private final PersonMapper people;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  Granting(GrantMapper grants, PersonMapper people, Bulk bulk, Ledger ledger, Ids ids) {
    this.grants = grants;
    this.people = people;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
  }

  /**
   * What is given.
   *
   * @param selected entitlements that answers select beside the package's own
   * @param decided when it was decided that they shall have something of it, by its key, where that
   *     was earlier: what is only changed gives nothing back that was revoked meanwhile
   * @param endsAt null while open-ended
   * @param reason what it is needed for; it is kept
   */
  public record Given(
      PersonRow person,
      String rolePackage,
      List<String> selected,
      Map<String, Instant> decided,
      Basis basis,
      String basisKey,
      Instant startsAt,
      @Nullable Instant endsAt,
      String reason) {}

  /** Begins a grant of a package, and one for each entitlement that answers select with it. */
  public void give(Given given, String by, String cause, Instant now) {
    var rows = new ArrayList<GrantRow>();
    rows.add(row(given, "package", given.rolePackage(), now));
    given.selected().forEach(key -> rows.add(row(given, "entitlement", key, now)));
    bulk.insert("access_grant", rows);
    plan(given.person(), cause, now);
    note(
        given.person(),
        by,
        cause,
        "grant-began",
        Map.of(
            "target",
            given.rolePackage(),
            "with",
            given.selected(),
            "basis",
            given.basis().word(),
            "startsAt",
            given.startsAt().toString(),
            "endsAt",
            given.endsAt() == null ? "" : given.endsAt().toString(),
            "reason",
            given.reason()),
        now);
  }

  private GrantRow row(Given given, String kind, String key, Instant now) {
    return new GrantRow(
        ids.next(),
        given.person().id(),
        kind,
        key,
        given.basis().word(),
        given.basisKey(),
        given.decided().getOrDefault(key, now),
        given.startsAt(),
        given.endsAt(),
        "");
  }

  /**
   * Has a grant, and what was given with it, end at another moment; whatever is over stays over.
   *
   * @param endsAt null for never
   * @return how many grants that were not over it was
   */
  public int end(
      PersonRow person,
      GrantRow grant,
      @Nullable Instant endsAt,
      String reason,
      String by,
      String cause,
      Instant now) {
    var alike = grants.lockAlike(person.id(), grant.basis(), grant.basisKey(), now);
    var together =
        GrantedBy.of(grant.basisKey()).isPresent()
            ? alike
            : alike.stream().filter(each -> each.id().equals(grant.id())).toList();
    if (together.isEmpty()) {
      return 0;
    }
    grants.end(
        JSON.writeValueAsString(
            together.stream()
                .map(each ->
                    new GrantMapper.Ended(
                        each.id(), endsAt == null ? null : SqlTime.write(endsAt), reason))
                .toList()));
    plan(person, cause, now);
    note(
        person,
        by,
        cause,
        word(grant.endsAt(), endsAt, now),
        Map.of(
            "target",
            grant.targetKey(),
            "endsAt",
            endsAt == null ? "" : endsAt.toString(),
            "reason",
            reason),
        now);
    return together.size();
  }

  private static String word(@Nullable Instant before, @Nullable Instant after, Instant now) {
    if (after == null) {
      return "grant-extended";
    }
    if (!after.isAfter(now)) {
      return "grant-ended";
    }
    return before == null || after.isBefore(before) ? "grant-shortened" : "grant-extended";
  }

  private void plan(PersonRow person, String cause, Instant now) {
    people.dueFor(List.of(person.id()), now, cause);
  }

  private void note(
      PersonRow person,
      String by,
      String cause,
      String what,
      Map<String, Object> after,
      Instant now) {
    ledger.append(
        new LedgerEntry(now, by, cause, "person:" + person.workerNumber(), what, Map.of(), after));
  }
}
