package glenmoor.core.access;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/** What was revoked goes, and only a new decision gives it again. */
class RevocationTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");
  private static final PersonId UNA = new PersonId(1);
  private static final List<String> RIGHTS =
      List.of("purserline/see", "purserline/raise", "purserline/release");

  private static Map<String, Object> bundle(String key, String... rights) {
    return SkerryLine.map("package", key, "entitlements", List.of(rights));
  }

  private static Catalogue catalogue() {
    var documents = new ArrayList<>(SkerryLine.documents());
    documents.add(
        SkerryLine.map(
            "application", "purserline",
            "connector", "scim",
            "account", SkerryLine.map("name", "person.worker")));
    RIGHTS.forEach(key -> documents.add(SkerryLine.map("entitlement", key)));
    documents.add(bundle("buying", "purserline/see", "purserline/raise"));
    documents.add(bundle("paying", "purserline/see", "purserline/release"));
    documents.add(bundle("raising", "purserline/raise"));
    var result = SkerryLine.read(documents);
    assertThat(result.problems()).isEmpty();
    return result.catalogue().orElseThrow();
  }

  private static Grant grant(long id, Target target, Basis basis) {
    return new Grant(id, UNA, target, basis, "x" + id, NOW.minusSeconds(60), null, "");
  }

  private static Set<String> given(List<Grant> grants, Catalogue catalogue) {
    return grants.stream()
        .filter(grant -> grant.inForce(NOW))
        .flatMap(catalogue::given)
        .map(Entitlement::key)
        .collect(Collectors.toSet());
  }

  private static List<Grant> after(List<Grant> grants, Revocation taken) {
    return CarveOut.of(
        grants.stream()
            .map(grant ->
                taken.ended().stream().anyMatch(each -> each.id() == grant.id())
                    ? grant.ending(NOW, "revoked")
                    : grant)
            .toList(),
        taken.carved());
  }

  @Test
  void a_grant_that_gives_nothing_else_ends_and_one_that_gives_more_keeps_the_rest() {
    var catalogue = catalogue();
    var grants =
        List.of(
            grant(1, new Target.OfPackage("buying"), Basis.REQUEST),
            grant(2, new Target.OfPackage("raising"), Basis.REQUEST),
            grant(3, new Target.OfEntitlement("purserline/raise"), Basis.DIRECT),
            grant(4, new Target.OfPackage("buying"), Basis.BIRTHRIGHT));
    var taken = Revocation.ofRights(grants, List.of("purserline/raise"), catalogue, NOW);
    assertThat(taken.ended()).extracting(Grant::id).containsExactly(2L, 3L);
    assertThat(taken.carved())
        .containsExactly(
            new CarveOut("purserline/raise", 1),
            new CarveOut("purserline/raise", CarveOut.EVERY_RULE));
    assertThat(given(after(grants, taken), catalogue)).containsExactly("purserline/see");
  }

  @Test
  void the_last_right_of_a_package_takes_the_package_with_it() {
    var catalogue = catalogue();
    var grants = List.of(grant(1, new Target.OfPackage("buying"), Basis.REQUEST));
    var first = Revocation.ofRights(grants, List.of("purserline/see"), catalogue, NOW);
    assertThat(first.ended()).isEmpty();
    var second =
        Revocation.ofRights(after(grants, first), List.of("purserline/raise"), catalogue, NOW);
    assertThat(second.ended()).hasSize(1);
  }

  @Test
  void a_package_as_a_whole_leaves_what_others_give() {
    var catalogue = catalogue();
    var grants =
        List.of(
            grant(1, new Target.OfPackage("buying"), Basis.BIRTHRIGHT),
            grant(2, new Target.OfPackage("paying"), Basis.REQUEST));
    var taken = Revocation.ofPackage(grants, "buying", catalogue, NOW);
    assertThat(given(after(grants, taken), catalogue))
        .containsExactlyInAnyOrder("purserline/see", "purserline/release");
  }

  @Test
  void whatever_is_revoked_comes_back_by_no_rule_and_by_nothing_that_was_given_before() {
    var catalogue = catalogue();
    var random = new Random(41);
    var packages = List.of("buying", "paying", "raising");
    for (var round = 0; round < 2_000; round++) {
      var grants = new ArrayList<Grant>();
      for (var id = 1; id <= 1 + random.nextInt(5); id++) {
        grants.add(any(id, random, packages));
      }
      var rights = RIGHTS.stream().filter(each -> random.nextBoolean()).collect(Collectors.toSet());
      var taken = Revocation.ofRights(grants, rights, catalogue, NOW);
      var left = new ArrayList<>(after(grants, taken));
      // All of it goes, and nothing else.
      var kept = given(grants, catalogue);
      kept.removeAll(rights);
      assertThat(given(left, catalogue)).containsExactlyInAnyOrderElementsOf(kept);
      // A rule that begins later gives nothing of it; a new decision does.
      var rule = grant(100, new Target.OfPackage("buying"), Basis.BIRTHRIGHT);
      var again = CarveOut.of(List.of(rule), taken.carved());
      taken.carved().stream()
          .filter(each -> each.grant() == CarveOut.EVERY_RULE)
          .forEach(each -> assertThat(given(again, catalogue)).doesNotContain(each.entitlement()));
      var asked = grant(101, new Target.OfPackage("buying"), Basis.REQUEST);
      assertThat(given(CarveOut.of(List.of(asked), taken.carved()), catalogue))
          .contains("purserline/raise");
    }
  }

  private static Grant any(long id, Random random, List<String> packages) {
    var basis = List.of(Basis.BIRTHRIGHT, Basis.REQUEST, Basis.DIRECT).get(random.nextInt(3));
    return random.nextInt(4) == 0
        ? grant(
            id, new Target.OfEntitlement(RIGHTS.get(random.nextInt(RIGHTS.size()))), Basis.DIRECT)
        : grant(id, new Target.OfPackage(packages.get(random.nextInt(packages.size()))), basis);
  }
}
