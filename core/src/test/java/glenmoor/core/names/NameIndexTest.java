package glenmoor.core.names;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.names.NameIndex.Entry;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class NameIndexTest {
  private static NameIndex of(List<Entry> entries) {
    var builder = new NameIndex.Builder();
    entries.stream().sorted().forEach(each -> builder.add(each.id(), each.letters()));
    return builder.build();
  }

  private static List<Long> ids(List<Entry> found) {
    return found.stream().map(Entry::id).toList();
  }

  @Test
  void nobody_is_found_where_nobody_is() {
    var none = of(List.of());
    assertThat(none.find("a", null, false, 9, id -> true)).isEmpty();
    assertThat(none.find("a", null, true, 9, id -> true)).isEmpty();
    assertThat(none.count("a", id -> true)).isZero();
  }

  @Test
  void who_has_the_part_twice_or_at_an_edge_is_found_once() {
    var index = of(List.of(new Entry("ana banana", 1), new Entry("bo", 2), new Entry("una", 3)));
    assertThat(ids(index.find("ana", null, false, 9, id -> true))).containsExactly(1L);
    assertThat(ids(index.find("na", null, true, 9, id -> true))).containsExactly(3L, 1L);
    assertThat(index.count("a", id -> true)).isEqualTo(2);
  }

  @Test
  void no_part_goes_from_one_name_into_the_next() {
    assertThat(of(List.of(new Entry("bo", 1), new Entry("una", 2))).count("ou", id -> true))
        .isZero();
    assertThat(NameIndex.canFind("bo\nuna")).isFalse();
    assertThat(NameIndex.canFind("")).isFalse();
    assertThat(of(List.of(new Entry("bo\nuna", 1))).count("o u", id -> true)).isEqualTo(1);
  }

  @Test
  void letters_of_any_script_are_found() {
    var index = of(List.of(new Entry("una ᚠ", 1), new Entry("bo 𐌰", 2)));
    assertThat(ids(index.find("𐌰", null, false, 9, id -> true))).containsExactly(2L);
    assertThat(ids(index.find("a ᚠ", null, false, 9, id -> true))).containsExactly(1L);
  }

  @Test
  void page_by_page_it_is_what_looking_at_each_name_gives() {
    var random = new Random(7);
    for (var round = 0; round < 200; round++) {
      var entries = new ArrayList<Entry>();
      for (var id = 1; id <= random.nextInt(40); id++) {
        entries.add(new Entry(letters(random, 1 + random.nextInt(6)), id));
      }
      var index = of(entries);
      var part = letters(random, 1 + random.nextInt(2));
      var left = (long) random.nextInt(40);
      for (var down : List.of(false, true)) {
        Comparator<Entry> order = down ? Comparator.reverseOrder() : Comparator.naturalOrder();
        var expected =
            entries.stream()
                .filter(each -> each.letters().contains(part) && each.id() != left)
                .sorted(order)
                .toList();
        assertThat(pages(index, part, down, 1 + random.nextInt(5), left)).isEqualTo(expected);
        assertThat(index.count(part, id -> id != left)).isEqualTo(expected.size());
      }
    }
  }

  private static List<Entry> pages(
      NameIndex index, String part, boolean down, int limit, long without) {
    var all = new ArrayList<Entry>();
    @Nullable Entry last = null;
    while (true) {
      var page = index.find(part, last, down, limit, id -> id != without);
      all.addAll(page);
      if (page.size() < limit) {
        return all;
      }
      last = page.getLast();
    }
  }

  private static String letters(Random random, int length) {
    var letters = new StringBuilder();
    for (var i = 0; i < length; i++) {
      letters.append("ab ".charAt(random.nextInt(3)));
    }
    return letters.toString();
  }
}
