package glenmoor.core.people;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.people.StandingSpan.Known;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

class StandingSpanTest {
  private static final LocalDate START = LocalDate.of(2026, 5, 1);

  private static List<String> words(Known... known) {
    return StandingSpan.through(List.of(known)).stream()
        .map(span -> "%s %s–%s".formatted(span.standing(), span.from(), span.until()))
        .toList();
  }

  @Test
  void what_is_known_now_says_what_comes() {
    assertThat(words(new Known(una("end", TODAY.plusDays(9)), TODAY.minusDays(3))))
        .containsExactly(
            "active 2026-05-01–" + TODAY.plusDays(10), "left " + TODAY.plusDays(10) + "–null");
  }

  @Test
  void a_leave_that_is_over_and_forgotten_was_one() {
    var from = TODAY.minusDays(60);
    assertThat(
            words(
                new Known(una(), START),
                new Known(una("leaveFrom", from, "leaveTo", from.plusDays(9)), from.minusDays(5)),
                new Known(una(), TODAY.minusDays(20))))
        .containsExactly(
            "active 2026-05-01–" + from,
            "on-leave " + from + "–" + from.plusDays(10),
            "active " + from.plusDays(10) + "–null");
  }

  @Test
  void whoever_came_back_was_away() {
    assertThat(
            words(
                new Known(una("end", LocalDate.of(2026, 10, 31)), START),
                new Known(una("start", TODAY.plusDays(30)), TODAY)))
        .containsExactly(
            "active 2026-05-01–2026-11-01",
            "left 2026-11-01–" + TODAY,
            "expected " + TODAY + "–" + TODAY.plusDays(30),
            "active " + TODAY.plusDays(30) + "–null");
  }

  @Test
  void several_records_of_one_day_are_the_last_of_them() {
    assertThat(
            words(
                new Known(una(), START),
                new Known(una().cutOffFrom(TODAY), TODAY),
                new Known(una(), TODAY)))
        .containsExactly("active 2026-05-01–null");
  }

  @Test
  void somebody_with_no_end_is_active_for_good() {
    assertThat(words(new Known(una(), TODAY))).containsExactly("active 2026-05-01–null");
  }

  @Test
  void whoever_starts_later_is_expected_until_then() {
    var start = TODAY.plusDays(10);
    assertThat(words(new Known(una("start", start), TODAY)))
        .containsExactly("expected " + TODAY + "–" + start, "active " + start + "–null");
  }

  @Test
  void leave_and_a_last_day_divide_the_line() {
    var person =
        una(
            "leaveFrom", LocalDate.of(2027, 5, 3),
            "leaveTo", LocalDate.of(2027, 5, 20),
            "end", LocalDate.of(2027, 6, 30));
    assertThat(words(new Known(person, TODAY)))
        .containsExactly(
            "active 2026-05-01–2027-05-03",
            "on-leave 2027-05-03–2027-05-21",
            "active 2027-05-21–2027-07-01",
            "left 2027-07-01–null");
  }
}
