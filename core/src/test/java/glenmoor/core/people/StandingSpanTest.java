package glenmoor.core.people;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

class StandingSpanTest {
  private static List<String> words(Person person) {
    return StandingSpan.of(person, TODAY).stream()
        .map(span -> span.standing() + " " + span.from() + " " + span.until())
        .toList();
  }

  @Test
  void somebody_with_no_end_is_active_for_good() {
    assertThat(words(una())).containsExactly("active 2026-05-01 null");
  }

  @Test
  void whoever_starts_later_is_expected_until_then() {
    var start = TODAY.plusDays(10);
    assertThat(words(una("start", start)))
        .containsExactly("expected " + TODAY + " " + start, "active " + start + " null");
  }

  @Test
  void leave_and_a_last_day_divide_the_line() {
    var person =
        una(
            "leaveFrom", LocalDate.of(2027, 5, 3),
            "leaveTo", LocalDate.of(2027, 5, 20),
            "end", LocalDate.of(2027, 6, 30));
    assertThat(words(person))
        .containsExactly(
            "active 2026-05-01 2027-05-03",
            "on-leave 2027-05-03 2027-05-21",
            "active 2027-05-21 2027-07-01",
            "left 2027-07-01 null");
  }
}
