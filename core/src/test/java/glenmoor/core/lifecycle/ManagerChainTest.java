package glenmoor.core.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class ManagerChainTest {
  private final ManagerChain chain = new ManagerChain();

  private List<Reject> check(Set<String> known, Map<String, Long> rejectedLines) {
    return chain.check("Manager", known::contains, rejectedLines);
  }

  @Test
  void a_chain_to_somebody_without_a_manager_is_good() {
    chain.add("W-3", "W-2", 4);
    chain.add("W-2", "W-1", 3);
    chain.add("W-1", "", 2);
    assertThat(check(Set.of(), Map.of())).isEmpty();
  }

  @Test
  void a_worker_number_that_stood_before_says_where() {
    assertThat(chain.add("W-1", null, 2)).isZero();
    assertThat(chain.add("W-1", null, 9)).isEqualTo(2);
  }

  @Test
  void a_manager_who_is_known_from_before_is_good() {
    chain.add("W-2", "W-1", 2);
    assertThat(check(Set.of("W-1"), Map.of())).isEmpty();
  }

  @Test
  void an_unknown_manager_is_set_aside_and_so_are_their_new_reports() {
    chain.add("W-3", "W-2", 3);
    chain.add("W-2", "W-9", 2);
    assertThat(check(Set.of(), Map.of())).extracting(Reject::worker).containsExactly("W-2", "W-3");
  }

  @Test
  void reports_of_somebody_known_stay_when_that_row_is_set_aside() {
    chain.add("W-3", "W-2", 3);
    chain.add("W-2", "W-9", 2);
    assertThat(check(Set.of("W-2"), Map.of())).extracting(Reject::worker).containsExactly("W-2");
  }

  @Test
  void a_manager_whose_row_was_bad_is_named_with_the_line() {
    chain.add("W-2", "W-1", 5);
    assertThat(check(Set.of(), Map.of("w-1", 2L)).getFirst().expected()).contains("line 2");
  }

  @Test
  void a_circle_is_named_in_full_and_those_below_it_go_with_it() {
    chain.add("W-1", "W-3", 2);
    chain.add("W-2", "W-1", 3);
    chain.add("W-3", "W-2", 4);
    chain.add("W-4", "W-3", 5);
    var rejects = check(Set.of(), Map.of());
    assertThat(rejects)
        .extracting(Reject::worker)
        .containsExactlyInAnyOrder("W-1", "W-2", "W-3", "W-4");
    assertThat(rejects.getFirst().expected()).contains("W-1 → W-3 → W-2 → W-1");
  }

  @Test
  void many_rows_keep_their_lines() {
    for (var i = 1; i <= 5_000; i++) {
      chain.add("W-" + i, i == 1 ? "W-0" : "W-1", i + 1);
    }
    assertThat(chain.size()).isEqualTo(5_000);
    assertThat(check(Set.of(), Map.of())).hasSize(5_000);
  }
}
