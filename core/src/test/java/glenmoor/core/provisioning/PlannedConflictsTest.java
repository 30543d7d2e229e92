package glenmoor.core.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.applications.AccountState;
import glenmoor.core.people.Person;
import glenmoor.core.requests.GivenGrants;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** What a plan says of conflict rules, and what an audience that fails ends: nothing. */
class PlannedConflictsTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");
  private static final Person UNA = SkerryLine.una("department", "Deck");

  private static Catalogue catalogue() {
    var documents = new ArrayList<>(SkerryLine.documents());
    documents.add(
        SkerryLine.map(
            "application", "purserline",
            "connector", "scim",
            "account", SkerryLine.map("name", "person.worker")));
    for (var right : List.of("see", "raise", "release")) {
      documents.add(SkerryLine.map("entitlement", "purserline/" + right));
    }
    documents.add(
        SkerryLine.map(
            "conflict-rule", "pay",
            "risk", "Somebody could pay themselves.",
            "sides", List.of("purserline/raise", "purserline/release")));
    documents.add(SkerryLine.map("portfolio", "money", "entitlements", List.of("purserline/see")));
    documents.add(
        SkerryLine.map(
            "package", "seeing", "portfolio", "money", "entitlements", List.of("purserline/see")));
    documents.add(
        SkerryLine.map(
            "route", "manager", "stages", List.of(SkerryLine.map("ask", "line-manager"))));
    documents.add(
        SkerryLine.map(
            "offer", "seeing",
            "package", "seeing",
            "portfolio", "money",
            "route", "manager",
            "on-move", "end",
            "for", "person.given.substring(40) == \"x\""));
    var result = SkerryLine.read(documents);
    assertThat(result.problems()).isEmpty();
    return result.catalogue().orElseThrow();
  }

  private static Grant grant(long id, String right) {
    return new Grant(
        id,
        UNA.id(),
        new Target.OfEntitlement("purserline/" + right),
        Basis.DIRECT,
        "x" + id,
        NOW.minusSeconds(60),
        null,
        "");
  }

  private static Account holding(String... rights) {
    var keys = new TreeSet<String>();
    for (var right : rights) {
      keys.add("purserline/" + right);
    }
    return new Account(
        1,
        UNA.id(),
        "purserline",
        "w-01007",
        1,
        "w-01007",
        "",
        new TreeMap<>(),
        AccountState.ENABLED,
        keys,
        null,
        1,
        false,
        Account.Seen.NOTHING);
  }

  private static List<String> conflicts(Account account, String... granted) {
    var grants = new ArrayList<Grant>();
    for (var right : granted) {
      grants.add(grant(grants.size() + 1, right));
    }
    var catalogue = catalogue();
    return new Planner(catalogue, Names.upTo(0), NOW)
        .plan(new PersonSnapshot(UNA, grants, List.of(account)))
        .conflicts();
  }

  @Test
  void a_rule_that_is_broken_already_is_no_new_conflict_whatever_else_is_gained() {
    assertThat(conflicts(holding("raise"), "raise", "release")).containsExactly("pay");
    assertThat(conflicts(holding("raise", "release"), "raise", "release", "see")).isEmpty();
    assertThat(conflicts(holding("raise", "release"), "raise")).isEmpty();
  }

  @Test
  void an_audience_that_cannot_be_evaluated_ends_nothing() {
    var held =
        new Grant(
            7,
            UNA.id(),
            new Target.OfPackage("seeing"),
            Basis.REQUEST,
            "seeing#9",
            NOW.minusSeconds(60),
            null,
            "");
    assertThat(GivenGrants.ended(UNA, List.of(held), catalogue(), NOW)).isEmpty();
  }
}
