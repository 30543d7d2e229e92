package glenmoor.core.lifecycle;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class DetectedTest {
  private static Optional<Detected> between(@Nullable Person before, Person after) {
    return Detected.between(before, after, SkerryLine.catalogue().facts(), TODAY);
  }

  private static EventKind kind(Person before, Person after) {
    return between(before, after).orElseThrow().kind();
  }

  @Test
  void the_same_facts_are_no_event() {
    assertThat(between(una("department", "Deck"), una("department", "Deck"))).isEmpty();
  }

  @Test
  void somebody_new_is_a_joiner_from_their_first_day() {
    var detected = between(null, una("start", TODAY.plusDays(9))).orElseThrow();
    assertThat(detected.kind()).isEqualTo(EventKind.JOINER);
    assertThat(detected.effective()).isEqualTo(TODAY.plusDays(9));
  }

  @Test
  void another_department_is_a_move_and_another_spelling_a_correction() {
    assertThat(kind(una("department", "Deck"), una("department", "Engine")))
        .isEqualTo(EventKind.MOVER);
    assertThat(kind(una(), una("given", "Oona"))).isEqualTo(EventKind.CORRECTION);
    assertThat(kind(una(), una("manager", "W-01001"))).isEqualTo(EventKind.CORRECTION);
  }

  @Test
  void the_change_says_what_was_and_what_is() {
    var detected = between(una("department", "Deck"), una("department", "Engine")).orElseThrow();
    assertThat(detected.changes()).containsExactly(new FactChange("department", "Deck", "Engine"));
  }

  @Test
  void an_end_date_is_a_leaver_from_the_day_after_it() {
    var detected = between(una(), una("end", TODAY.plusDays(30))).orElseThrow();
    assertThat(detected.kind()).isEqualTo(EventKind.LEAVER);
    assertThat(detected.effective()).isEqualTo(TODAY.plusDays(31));
  }

  @Test
  void a_backdated_leaver_counts_from_today() {
    assertThat(between(una(), una("end", TODAY.minusDays(20))).orElseThrow().effective())
        .isEqualTo(TODAY);
  }

  @Test
  void whoever_is_no_longer_named_is_a_leaver() {
    assertThat(kind(una(), una().absentFrom(TODAY))).isEqualTo(EventKind.LEAVER);
  }

  @Test
  void whoever_had_not_begun_and_is_named_no_more_never_came() {
    var expected = una("start", TODAY.plusDays(3));
    assertThat(kind(expected, expected.absentFrom(TODAY))).isEqualTo(EventKind.NO_SHOW);
  }

  @Test
  void of_whoever_was_cut_off_nothing_touches_access() {
    var cutOff = una().cutOffFrom(TODAY.minusDays(1));
    assertThat(between(cutOff, cutOff)).isEmpty();
    assertThat(kind(cutOff, cutOff.absentFrom(TODAY))).isEqualTo(EventKind.CORRECTION);
    assertThat(kind(cutOff, una("department", "Engine").cutOffFrom(TODAY.minusDays(1))))
        .isEqualTo(EventKind.CORRECTION);
  }

  @Test
  void whoever_comes_back_is_a_rehire() {
    assertThat(kind(una().absentFrom(TODAY.minusDays(60)), una())).isEqualTo(EventKind.REHIRE);
    assertThat(kind(una("end", TODAY.minusDays(60)), una())).isEqualTo(EventKind.REHIRE);
  }

  private static List<EventKind> kinds(Person before, Person after) {
    return between(before, after).orElseThrow().events(TODAY).stream().map(Detected::kind).toList();
  }

  @Test
  void a_row_that_says_another_department_and_something_else_is_a_move_as_well() {
    var away = una("department", "Deck", "leaveFrom", TODAY.minusDays(30));
    assertThat(
            kinds(una("department", "Deck"), una("department", "Engine", "end", TODAY.plusDays(9))))
        .containsExactly(EventKind.LEAVER, EventKind.MOVER);
    assertThat(kinds(una("department", "Deck"), una("department", "Engine", "leaveFrom", TODAY)))
        .containsExactly(EventKind.LEAVE_BEGINS, EventKind.MOVER);
    assertThat(kinds(away, una("department", "Engine")))
        .containsExactly(EventKind.LEAVE_ENDS, EventKind.MOVER);
    assertThat(
            kinds(
                una("department", "Deck", "start", TODAY.plusDays(9)),
                una("department", "Engine", "start", TODAY.plusDays(20))))
        .containsExactly(EventKind.START_MOVED, EventKind.MOVER);
    // Whoever has left, or comes back after that, moves nowhere.
    assertThat(
            kinds(
                una("department", "Deck"), una("department", "Engine", "end", TODAY.minusDays(9))))
        .containsExactly(EventKind.LEAVER);
    assertThat(
            kinds(
                una("department", "Deck", "end", TODAY.minusDays(9)), una("department", "Engine")))
        .containsExactly(EventKind.REHIRE);
    assertThat(kinds(una("department", "Deck"), una("department", "Engine")))
        .containsExactly(EventKind.MOVER);
  }

  @Test
  void another_first_day_before_it_came_is_a_moved_start() {
    assertThat(kind(una("start", TODAY.plusDays(9)), una("start", TODAY.plusDays(20))))
        .isEqualTo(EventKind.START_MOVED);
  }

  @Test
  void whoever_counts_once_it_was_agreed_begins_whatever_last_day_they_have() {
    var later = una("start", Facts.NOT_YET);
    for (var first : List.of(TODAY, TODAY.plusDays(9))) {
      var detected = between(later, una("start", first, "end", TODAY.plusDays(30))).orElseThrow();
      assertThat(detected.kind()).isEqualTo(EventKind.START_MOVED);
      assertThat(detected.effective()).isEqualTo(first);
    }
    assertThat(kind(later, una("start", TODAY.minusDays(9), "end", TODAY.minusDays(1))))
        .as("over before it began")
        .isEqualTo(EventKind.NO_SHOW);
  }

  @Test
  void a_leave_begins_and_ends() {
    assertThat(kind(una(), una("leaveFrom", TODAY.plusDays(3)))).isEqualTo(EventKind.LEAVE_BEGINS);
    assertThat(kind(una("leaveFrom", TODAY.minusDays(3)), una())).isEqualTo(EventKind.LEAVE_ENDS);
  }
}
