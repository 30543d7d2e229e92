package glenmoor.core.access;

import static glenmoor.core.SkerryLine.NOW;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class WhyTest {
  private final Catalogue catalogue = SkerryLine.catalogue();

  private static Grant deck(long id, @Nullable Instant until) {
    return new Grant(
        id,
        new PersonId(7),
        new Target.OfPackage("deck"),
        Basis.BIRTHRIGHT,
        "deck",
        NOW.minusSeconds(60),
        until,
        until == null ? "" : "moved");
  }

  private List<Why.Path> why(String entitlement, Grant... grants) {
    return Why.paths(
        catalogue.entitlements().get(entitlement),
        una("department", "Deck"),
        List.of(grants),
        Optional.empty(),
        catalogue,
        grant -> new Why.Then(una("department", "Deck"), catalogue),
        NOW);
  }

  @Test
  void what_has_ended_is_told_by_the_facts_of_then() {
    var path =
        Why.paths(
                catalogue.entitlements().get("directory/deck"),
                una("department", "Engine"),
                List.of(deck(1, NOW.minusSeconds(5))),
                Optional.empty(),
                catalogue,
                grant -> new Why.Then(una("department", "Deck"), catalogue),
                NOW)
            .getFirst();
    assertThat(path.links().get(1).text()).isEqualTo("department: Deck");
  }

  @Test
  void the_path_goes_from_the_fact_to_the_right() {
    var path = why("chartshare/charts", deck(1, null)).getFirst();
    assertThat(path.inForce()).isTrue();
    assertThat(path.links())
        .extracting(Why.Link::kind)
        .containsExactly("standing", "fact", "birthright", "package", "entitlement");
    assertThat(path.links().get(1).text()).isEqualTo("department: Deck");
    assertThat(path.links().get(3).text()).isEqualTo("Deck work");
  }

  @Test
  void two_grants_are_two_paths_those_in_force_first() {
    var paths = why("directory/deck", deck(1, NOW.minusSeconds(5)), deck(2, null));
    assertThat(paths).extracting(Why.Path::grant).containsExactly(2L, 1L);
    assertThat(paths.get(1).sentence()).isEqualTo("ended: moved");
  }

  @Test
  void what_no_grant_gives_has_no_path() {
    assertThat(why("directory/engine", deck(1, null))).isEmpty();
  }
}
