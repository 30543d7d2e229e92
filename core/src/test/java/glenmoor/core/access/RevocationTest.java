package glenmoor.core.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

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

  private static Revocation revoked(Target target) {
    return new Revocation(1, target, NOW, NOW, null, "too much");
  }

  private static Revocation revoked(String entitlement) {
    return revoked(new Target.OfEntitlement(entitlement));
  }

  private static List<Grant> after(
      List<Grant> grants, List<Revocation> revocations, Catalogue catalogue) {
    return Revocation.applied(
        Grant.after(
            grants,
            Revocation.ended(grants, revocations, catalogue, NOW).stream()
                .map(Revocation.Ended::grant)
                .toList(),
            List.of()),
        revocations,
        catalogue,
        NOW);
  }

  private static Grant decided(long id, Target target, Instant at) {
    return new Grant(
        id, UNA, target, Basis.REQUEST, "x" + id, at, NOW.minusSeconds(60), null, "", Set.of());
  }

  @Test
  void a_grant_that_gives_nothing_else_ends_and_one_that_gives_more_keeps_the_rest() {
    var catalogue = catalogue();
    var grants =
        List.of(
            grant(1, new Target.OfPackage("buying"), Basis.REQUEST),
            grant(2, new Target.OfPackage("raising"), Basis.REQUEST),
            grant(3, new Target.OfEntitlement("purserline/raise"), Basis.DIRECT),
            grant(4, new Target.OfPackage("buying"), Basis.BIRTHRIGHT),
            grant(5, new Target.OfEntitlement("purserline/raise"), Basis.DISCOVERED));
    var revocations = List.of(revoked("purserline/raise"));
    assertThat(Revocation.ended(grants, revocations, catalogue, NOW))
        .extracting(each -> each.grant().id(), each -> each.grant().endReason())
        .containsExactly(tuple(2L, "too much"), tuple(3L, "too much"), tuple(5L, "too much"));
    assertThat(given(after(grants, revocations, catalogue), catalogue))
        .containsExactly("purserline/see");
  }

  @Test
  void the_last_entitlement_of_a_package_takes_the_package_with_it() {
    var catalogue = catalogue();
    var grants = List.of(grant(1, new Target.OfPackage("buying"), Basis.REQUEST));
    var first = List.of(revoked("purserline/see"));
    assertThat(Revocation.ended(grants, first, catalogue, NOW)).isEmpty();
    var both = List.of(revoked("purserline/see"), revoked("purserline/raise"));
    assertThat(Revocation.ended(grants, both, catalogue, NOW)).hasSize(1);
  }

  @Test
  void a_package_as_a_whole_leaves_what_others_give_for_as_long_as_they_give_it() {
    var catalogue = catalogue();
    var rule = grant(1, new Target.OfPackage("buying"), Basis.BIRTHRIGHT);
    var asked = grant(2, new Target.OfPackage("paying"), Basis.REQUEST);
    var revocations = List.of(revoked(new Target.OfPackage("buying")));
    assertThat(given(after(List.of(rule, asked), revocations, catalogue), catalogue))
        .containsExactlyInAnyOrder("purserline/see", "purserline/release");
    // The other grant ends, and the rule gives no part of the package.
    assertThat(given(after(List.of(rule), revocations, catalogue), catalogue)).isEmpty();
  }

  @Test
  void what_came_with_a_package_goes_with_it() {
    var catalogue = catalogue();
    var grants =
        List.of(
            new Grant(
                1, UNA, new Target.OfPackage("raising"), Basis.REQUEST, "desk#7", NOW, null, ""),
            new Grant(
                2,
                UNA,
                new Target.OfEntitlement("purserline/see"),
                Basis.REQUEST,
                "desk#7",
                NOW,
                null,
                ""),
            new Grant(
                3,
                UNA,
                new Target.OfEntitlement("purserline/see"),
                Basis.REQUEST,
                "desk#8",
                NOW,
                null,
                ""));
    var revocations = List.of(revoked(new Target.OfPackage("raising")));
    assertThat(Revocation.ended(grants, revocations, catalogue, NOW))
        .extracting(each -> each.grant().id())
        .containsExactly(1L, 2L);
  }

  @Test
  void only_what_is_decided_later_gives_it_again() {
    var catalogue = catalogue();
    var target = new Target.OfPackage("buying");
    var revocations = List.of(revoked("purserline/raise"));
    var before = decided(1, target, NOW.minusSeconds(1));
    var same = decided(2, target, NOW);
    var later = decided(3, target, NOW.plusSeconds(1));
    assertThat(given(after(List.of(before, same), revocations, catalogue), catalogue))
        .doesNotContain("purserline/raise");
    assertThat(given(after(List.of(later), revocations, catalogue), catalogue))
        .contains("purserline/raise");
    // Nobody decided on what was adopted by itself, whenever that was.
    var adopted =
        new Grant(
            4,
            UNA,
            new Target.OfEntitlement("purserline/raise"),
            Basis.DISCOVERED,
            "drift:1",
            null,
            NOW.plusSeconds(9),
            null,
            "",
            Set.of());
    assertThat(Revocation.ended(List.of(adopted), revocations, catalogue, NOW)).hasSize(1);
  }

  @Test
  void it_holds_from_its_moment_until_it_is_lifted() {
    var catalogue = catalogue();
    var grants = List.of(grant(1, new Target.OfPackage("raising"), Basis.BIRTHRIGHT));
    var ahead =
        List.of(
            new Revocation(
                1,
                new Target.OfEntitlement("purserline/raise"),
                NOW,
                NOW.plusSeconds(10),
                NOW.plusSeconds(20),
                ""));
    for (var second : List.of(0, 9, 20, 21)) {
      assertThat(Revocation.applied(grants, ahead, catalogue, NOW.plusSeconds(second)).getFirst())
          .isEqualTo(grants.getFirst());
    }
    for (var second : List.of(10, 19)) {
      assertThat(
              Revocation.applied(grants, ahead, catalogue, NOW.plusSeconds(second))
                  .getFirst()
                  .without())
          .containsExactly("purserline/raise");
    }
  }

  @Test
  void all_that_is_revoked_goes_and_nothing_else_whatever_gives_it() {
    var catalogue = catalogue();
    var random = new Random(41);
    var packages = List.of("buying", "paying", "raising");
    for (var round = 0; round < 2_000; round++) {
      var grants = new ArrayList<Grant>();
      for (var id = 1; id <= 1 + random.nextInt(5); id++) {
        grants.add(any(id, random, packages));
      }
      var rights = RIGHTS.stream().filter(each -> random.nextBoolean()).collect(Collectors.toSet());
      var revocations = rights.stream().map(RevocationTest::revoked).toList();
      var kept = given(grants, catalogue);
      kept.removeAll(rights);
      assertThat(given(after(grants, revocations, catalogue), catalogue))
          .containsExactlyInAnyOrderElementsOf(kept);
      // A rule that begins later, of whichever package, gives nothing of it.
      for (var each : packages) {
        var rule = grant(100, new Target.OfPackage(each), Basis.BIRTHRIGHT);
        assertThat(given(after(List.of(rule), revocations, catalogue), catalogue))
            .doesNotContainAnyElementsOf(rights.isEmpty() ? List.of("none") : rights);
      }
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
