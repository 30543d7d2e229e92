package glenmoor.core.reconcile;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.applications.AccountState;
import glenmoor.core.reconcile.Expectations.Expected;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.LongStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ExpectationsTest {
  private static final String DECK = "{\"title\":\"Deck\"}";

  private Expectations expectations;

  @BeforeEach
  void una_and_bo() {
    expectations = new Expectations();
    expectations.expect(new Expected(7, "n-7", "W-7", "una", "", DECK, AccountState.ENABLED, true));
    expectations.expect(new Expected(9, "n-9", "W-9", "bo", "", DECK, AccountState.DISABLED, true));
    expectations.expectRight(7, "directory/charts");
  }

  private boolean listed(String nativeId, String worker, String name, boolean on, String facts) {
    return expectations.listed("uid=" + name, nativeId, worker, name, "", on, facts).agrees();
  }

  private List<Long> missing() {
    var missing = new ArrayList<Long>();
    expectations.missing(missing::add);
    return missing;
  }

  private List<Long> differingRights() {
    var differing = new ArrayList<Long>();
    expectations.differingRights((id, number) -> differing.add(id));
    return differing;
  }

  private List<String> keptRights() {
    var kept = new ArrayList<String>();
    expectations.keptRights((number, entitlement) -> kept.add(number + " " + entitlement));
    return kept;
  }

  @Test
  void what_is_as_it_should_be_agrees_and_who_is_not_listed_is_missing() {
    assertThat(listed("n-7", "W-7", "una", true, DECK)).isTrue();
    expectations.holds("uid=una", "directory/charts");
    assertThat(differingRights()).isEmpty();
    assertThat(keptRights()).isEmpty();
    assertThat(missing()).containsExactly(9L);
  }

  @Test
  void every_side_that_is_another_differs() {
    assertThat(listed("n-7", "W-7", "Una", true, DECK)).as("its name").isFalse();
    una_and_bo();
    assertThat(listed("n-7", "W-7", "una", false, DECK)).as("shut").isFalse();
    una_and_bo();
    assertThat(listed("n-7", "W-7", "una", true, "{\"title\":\"Master\"}")).as("a fact").isFalse();
    una_and_bo();
    assertThat(expectations.listed("r", "n-7", "W-7", "una", "ou=x", true, DECK).agrees())
        .as("where it stands")
        .isFalse();
    assertThat(missing()).as("it is there, however it looks").containsExactly(9L);
  }

  @Test
  void an_account_of_nobody_s_is_kept_and_is_not_told_by_name_or_worker_number() {
    assertThat(listed("n-8", "W-7", "una", true, DECK)).isFalse();
    assertThat(listed("", "W-7", "una", true, DECK)).isFalse();
    assertThat(missing()).containsExactly(7L, 9L);
    expectations.seen(7);
    assertThat(missing()).as("joined by other means").containsExactly(9L);
  }

  @Test
  void one_that_carries_the_number_of_somebody_else_is_kept() {
    assertThat(listed("n-7", "W-9", "una", true, DECK)).isFalse();
    una_and_bo();
    assertThat(listed("n-7", "", "una", true, DECK)).as("no number says nothing").isTrue();
  }

  @Test
  void an_account_that_should_not_be_is_never_as_it_should_be() {
    expectations = new Expectations();
    expectations.expect(new Expected(7, "n-7", "W-7", "una", "", DECK, AccountState.NONE, true));
    assertThat(listed("n-7", "W-7", "una", false, DECK)).isFalse();
    assertThat(missing()).as("nor missed").isEmpty();
  }

  @Test
  void an_account_that_was_never_seen_there_is_not_missed() {
    expectations = new Expectations();
    expectations.expect(new Expected(7, null, "W-7", "una", "", DECK, AccountState.ENABLED, false));
    assertThat(missing()).isEmpty();
  }

  @Test
  void a_right_too_many_or_too_few_makes_its_account_differ() {
    listed("n-7", "W-7", "una", true, DECK);
    expectations.listed("uid=bo", "n-9", "W-9", "bo", "", false, DECK);
    expectations.holds("uid=bo", "directory/charts");
    expectations.holds("uid=nobody", "directory/charts");
    assertThat(differingRights()).containsExactly(7L, 9L);
    assertThat(keptRights()).as("what there is of it").containsExactly("1 directory/charts");
  }

  @Test
  void of_an_account_that_is_given_twice_all_is_kept_once_it_differed() {
    assertThat(listed("n-7", "W-7", "una", false, DECK)).isFalse();
    assertThat(listed("n-7", "W-7", "una", true, DECK)).as("the last must be seen").isFalse();
  }

  @Test
  void one_that_was_renamed_while_it_was_read_has_the_rights_of_its_last_name() {
    assertThat(expectations.listed("uid=una1", "n-7", "W-7", "una", "", true, DECK).agrees())
        .isTrue();
    assertThat(expectations.listed("uid=una", "n-7", "W-7", "una", "", true, DECK).agrees())
        .isTrue();
    expectations.holds("uid=una", "directory/charts");
    assertThat(differingRights()).isEmpty();
  }

  /** What is kept and compared must be all that differs, whatever is listed. */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5})
  void nothing_that_differs_is_passed_over(long seed) {
    var random = new Random(seed);
    expectations = new Expectations();
    var should = new TreeMap<Long, Set<String>>();
    var names = new HashMap<Long, String>();
    LongStream.range(0, 500)
        .forEach(id -> {
          names.put(id, "name" + id);
          expectations.expect(
              new Expected(
                  id, "n-" + id, "W-" + id, "name" + id, "", DECK, AccountState.ENABLED, true));
          should.put(id, rights(random));
          should.get(id).forEach(right -> expectations.expectRight(id, right));
        });
    var differing = new TreeSet<Long>();
    var kept = new TreeSet<Long>();
    var lost = new TreeSet<Long>();
    var listed = new LinkedHashMap<Long, Set<String>>();
    for (var id : should.keySet()) {
      if (random.nextInt(10) == 0) {
        lost.add(id);
        continue;
      }
      var renamed = random.nextInt(10) == 0;
      var rights = random.nextInt(5) == 0 ? rights(random) : should.get(id);
      if (renamed || !rights.equals(should.get(id))) {
        differing.add(id);
      }
      listed.put(id, rights);
      var name = names.get(id) + (renamed ? "x" : "");
      if (!expectations.listed("r" + id, "n-" + id, "W-" + id, name, "", true, DECK).agrees()) {
        kept.add(id);
      }
    }
    listed.forEach((id, rights) -> rights.forEach(right -> expectations.holds("r" + id, right)));
    expectations.differingRights((id, number) -> kept.add(id));
    assertThat(kept).isEqualTo(differing);
    assertThat(new TreeSet<>(missing())).isEqualTo(lost);
    Map<Integer, Set<String>> held = new TreeMap<>();
    expectations.keptRights(
        (number, right) -> held.computeIfAbsent(number, n -> new TreeSet<>()).add(right));
    var ids = List.copyOf(listed.keySet());
    for (var id : kept) {
      assertThat(held.getOrDefault(ids.indexOf(id), new HashSet<>())).isEqualTo(listed.get(id));
    }
  }

  private static Set<String> rights(Random random) {
    var rights = new TreeSet<String>();
    for (var each = random.nextInt(4); each > 0; each--) {
      rights.add("directory/group" + random.nextInt(10));
    }
    return rights;
  }
}
