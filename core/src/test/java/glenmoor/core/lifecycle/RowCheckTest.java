package glenmoor.core.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Catalogue;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

class RowCheckTest {
  private static final List<String> HEADING =
      List.of("Worker", "Given", "Family", "Department", "Grade", "Manager", "Start", "End");
  private static final Catalogue CATALOGUE = SkerryLine.catalogue();

  private static RowCheck.Result check(String... fields) {
    var source = CATALOGUE.sources().get("people-office");
    return new RowCheck(source, CATALOGUE.facts(), HEADING).check(12, List.of(fields));
  }

  private static Reject onlyReject(RowCheck.Result result) {
    assertThat(result).isInstanceOf(RowCheck.Result.Bad.class);
    var rejects = ((RowCheck.Result.Bad) result).rejects();
    assertThat(rejects).hasSize(1);
    return rejects.getFirst();
  }

  @Test
  void a_good_row_becomes_typed_facts() {
    var good =
        (RowCheck.Result.Good)
            check(" W-01007 ", "Una", "Kerrow", "D", "3", "W-01001", "2026-05-01", "");
    assertThat(good.worker().value()).isEqualTo("W-01007");
    assertThat(good.facts().get("department")).isEqualTo("Deck");
    assertThat(good.facts().get("grade")).isEqualTo(3L);
    assertThat(good.facts().get("start")).isEqualTo(LocalDate.of(2026, 5, 1));
    assertThat(good.facts().values()).doesNotContainKey("end");
  }

  @Test
  void a_bad_date_says_line_column_what_was_found_and_what_is_expected() {
    var reject = onlyReject(check("W-01007", "Una", "Kerrow", "D", "3", "", "2026-13-05", ""));
    assertThat(reject.line()).isEqualTo(12);
    assertThat(reject.worker()).isEqualTo("W-01007");
    assertThat(reject.column()).isEqualTo("Start");
    assertThat(reject.found()).isEqualTo("2026-13-05");
    assertThat(reject.expected()).contains("2027-03-14");
  }

  @Test
  void an_end_before_the_start_is_set_aside() {
    var reject =
        onlyReject(check("W-01007", "Una", "Kerrow", "D", "3", "", "2026-05-01", "2026-04-30"));
    assertThat(reject.column()).isEqualTo("End");
    assertThat(reject.expected()).isEqualTo("a date not before 2026-05-01 in Start");
  }

  @Test
  void a_missing_worker_number_is_set_aside() {
    assertThat(onlyReject(check("", "Una", "Kerrow", "D", "3", "", "", "")).expected())
        .isEqualTo("a worker number");
  }

  @Test
  void the_wrong_number_of_columns_is_set_aside() {
    var reject = onlyReject(check("W-01007", "Una"));
    assertThat(reject.found()).isEqualTo("2 columns");
    assertThat(reject.expected()).isEqualTo("8 columns, as the heading has");
  }

  @Test
  void control_characters_are_named_where_they_cannot_be_shown() {
    var reject = onlyReject(check("W-01007", "U\u0007na", "Kerrow", "D", "3", "", "", ""));
    assertThat(reject.found()).isEqualTo("U<U+0007>na");
  }

  @Test
  void text_that_is_too_long_says_how_long_it_is() {
    var reject = onlyReject(check("W-01007", "U".repeat(41), "Kerrow", "D", "3", "", "", ""));
    assertThat(reject.found()).startsWith("41 characters");
    assertThat(reject.expected()).isEqualTo("at most 40 characters");
  }

  @Test
  void bytes_that_are_not_utf8_are_set_aside() {
    assertThat(onlyReject(check("W-01007", "Un\uFFFD", "Kerrow", "D", "3", "", "", "")).expected())
        .isEqualTo("text encoded as UTF-8");
  }

  @Test
  void nobody_is_their_own_manager() {
    assertThat(onlyReject(check("W-01007", "Una", "K", "D", "3", "W-01007", "", "")).column())
        .isEqualTo("Manager");
  }

  @Test
  void everything_wrong_in_a_row_is_said_at_once() {
    var bad = (RowCheck.Result.Bad) check("W-01007", "Una", "K", "D", "x", "", "soon", "");
    assertThat(bad.rejects()).extracting(Reject::column).containsExactly("Grade", "Start");
  }

  @Test
  void a_heading_without_a_mapped_column_stops_the_file() {
    var source = CATALOGUE.sources().get("people-office");
    assertThatThrownBy(() -> new RowCheck(source, CATALOGUE.facts(), List.of("Worker", "Given")))
        .isInstanceOf(RowCheck.BadHeading.class)
        .hasMessageContaining("no column Family, Department, Grade, Manager, Start, End");
  }
}
