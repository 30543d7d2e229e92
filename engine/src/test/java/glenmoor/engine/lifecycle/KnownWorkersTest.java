package glenmoor.engine.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.people.WorkerNumber;
import java.nio.ByteBuffer;
import java.util.HashSet;
import org.junit.jupiter.api.Test;

class KnownWorkersTest {
  private final KnownWorkers known = new KnownWorkers();

  private void add(String worker, long id, String said, boolean absent) {
    var digest = known.digest(said);
    known.add(
        WorkerNumber.key(worker),
        id,
        ByteBuffer.allocate(16).putLong(digest.high()).putLong(digest.low()).array(),
        absent,
        true);
  }

  private HashSet<Long> missing() {
    var missing = new HashSet<Long>();
    known.missing(missing::add);
    return missing;
  }

  @Test
  void the_same_words_are_as_before_and_others_are_not() {
    add("W-1", 1, "deckhand", false);
    assertThat(known.isAsBefore(known.find("W-1"), known.digest("deckhand"))).isTrue();
    assertThat(known.isAsBefore(known.find("W-1"), known.digest("mate"))).isFalse();
    assertThat(known.isAsBefore(known.find("W-2"), known.digest("deckhand"))).isFalse();
    var after = known.after("deck");
    assertThat(after.apply("hand")).isEqualTo(known.digest("deckhand"));
    assertThat(after.apply("")).as("and again").isEqualTo(known.digest("deck"));
  }

  @Test
  void whoever_was_gone_is_not_as_before_when_they_are_named_again() {
    add("W-1", 1, "deckhand", true);
    assertThat(known.isAsBefore(known.find("W-1"), known.digest("deckhand"))).isFalse();
  }

  @Test
  void missing_are_those_who_were_there_and_were_not_seen() {
    add("W-1", 1, "a", false);
    add("W-2", 2, "b", false);
    add("W-3", 3, "c", true);
    known.see(known.find("W-1"));
    known.see(known.find("W-9"));
    assertThat(missing()).containsExactly(2L);
  }

  @Test
  void many_are_kept_apart_while_the_table_grows() {
    for (var i = 0; i < 50_000; i++) {
      add("W-" + i, i, "said " + i, false);
    }
    assertThat(known.size()).isEqualTo(50_000);
    for (var i = 0; i < 50_000; i++) {
      assertThat(known.isAsBefore(known.find("W-" + i), known.digest("said " + i))).isTrue();
      if (i % 2 == 0) {
        known.see(known.find("W-" + i));
      }
    }
    assertThat(known.isKnown("W-50000")).isFalse();
    assertThat(missing()).hasSize(25_000).contains(1L).doesNotContain(2L);
  }
}
