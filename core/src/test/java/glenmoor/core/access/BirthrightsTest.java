package glenmoor.core.access;

import static glenmoor.core.SkerryLine.NOW;
import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

class BirthrightsTest {
  private static Birthrights.Changes decide(Person person, Grant... grants) {
    return Birthrights.decide(person, List.of(grants), SkerryLine.catalogue(), NOW);
  }

  private static Grant held(String birthright, String packageKey, Instant from) {
    return new Grant(
        3,
        new PersonId(7),
        new Target.OfPackage(packageKey),
        Basis.BIRTHRIGHT,
        birthright,
        from,
        null,
        "");
  }

  private static Grant everyone() {
    return held("everyone", "start-kit", NOW.minusSeconds(9));
  }

  @Test
  void a_condition_that_holds_begins_a_grant_now() {
    var begun = decide(una("department", "Deck")).begin();
    assertThat(begun).extracting(Grant::basisKey).containsExactly("everyone", "deck");
    assertThat(begun).extracting(Grant::startsAt).containsOnly(NOW);
  }

  @Test
  void an_expected_persons_grants_begin_on_their_first_day() {
    var begun = decide(una("start", TODAY.plusDays(9))).begin();
    assertThat(begun.getFirst().startsAt()).isEqualTo("2027-03-10T00:00:00Z");
  }

  @Test
  void what_is_held_already_does_not_begin_again() {
    var changes = decide(una(), everyone());
    assertThat(changes.begin()).isEmpty();
    assertThat(changes.amend()).isEmpty();
  }

  @Test
  void a_mover_loses_the_old_departments_package_after_its_grace() {
    var changes =
        decide(una("department", "Engine"), everyone(), held("deck", "deck", NOW.minusSeconds(9)));
    assertThat(changes.begin()).extracting(Grant::basisKey).containsExactly("engine");
    assertThat(changes.amend()).hasSize(1);
    assertThat(changes.amend().getFirst().endsAt()).isEqualTo(NOW.plus(Duration.ofDays(7)));
  }

  @Test
  void moving_back_within_the_grace_keeps_the_grant() {
    var ending = held("deck", "deck", NOW.minusSeconds(9)).ending(NOW.plusSeconds(60), "facts");
    var changes = decide(una("department", "Deck"), everyone(), ending);
    assertThat(changes.begin()).isEmpty();
    assertThat(changes.amend()).extracting(Grant::endsAt).containsExactly((Instant) null);
  }

  @Test
  void a_leaver_loses_all_of_it_at_once() {
    var changes = decide(una("end", TODAY.minusDays(1)), everyone());
    assertThat(changes.begin()).isEmpty();
    assertThat(changes.amend().getFirst().endsAt()).isEqualTo(NOW);
    assertThat(changes.amend().getFirst().endReason()).isEqualTo("left");
  }

  @Test
  void a_moved_start_moves_the_grant() {
    var first = held("everyone", "start-kit", Instant.parse("2027-03-05T00:00:00Z"));
    var changes = decide(una("start", TODAY.plusDays(9)), first);
    assertThat(changes.begin().getFirst().startsAt()).isEqualTo("2027-03-10T00:00:00Z");
    assertThat(changes.amend().getFirst().endReason()).isEqualTo("replaced");
  }

  @Test
  void a_birthright_that_is_no_longer_defined_ends() {
    var changes = decide(una(), everyone(), held("bygone", "deck", NOW.minusSeconds(9)));
    assertThat(changes.amend()).extracting(Grant::basisKey).containsExactly("bygone");
  }

  @Test
  void grants_of_another_basis_are_left_alone() {
    var asked =
        new Grant(
            4, new PersonId(7), new Target.OfPackage("deck"), Basis.REQUEST, "", NOW, null, "");
    assertThat(decide(una("department", "Engine"), everyone(), asked).amend()).isEmpty();
  }
}
