package glenmoor.core.ledger;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.erdtman.jcs.JsonCanonicalizer;
import org.junit.jupiter.api.Test;

class CanonicalJsonTest {
  @Test
  void keys_are_sorted_and_nothing_is_spaced() {
    assertThat(CanonicalJson.write(Map.of("b", List.of(1, true), "a", "x")))
        .isEqualTo("{\"a\":\"x\",\"b\":[1,true]}");
  }

  @Test
  void a_number_too_large_for_json_is_written_as_text() {
    assertThat(CanonicalJson.write(1L << 53)).isEqualTo("\"9007199254740992\"");
    assertThat(CanonicalJson.write((1L << 53) - 1)).isEqualTo("9007199254740991");
  }

  @Test
  void a_missing_value_is_left_out_of_an_object() {
    var map = new TreeMap<String, Object>();
    map.put("a", null);
    assertThat(CanonicalJson.write(map)).isEqualTo("{}");
    assertThat(CanonicalJson.write(Arrays.asList("x", null))).isEqualTo("[\"x\",null]");
  }

  @Test
  void keys_that_are_sorted_otherwise_are_sorted_as_texts() {
    assertThat(CanonicalJson.write(new TreeMap<>(Map.of(2, "two", 10, "ten"))))
        .isEqualTo("{\"10\":\"ten\",\"2\":\"two\"}");
    assertThat(CanonicalJson.write(new TreeMap<String, String>())).isEqualTo("{}");
  }

  @Test
  void it_is_what_an_independent_implementation_of_the_standard_writes() throws IOException {
    var random = new Random(20270301);
    for (var round = 0; round < 2_000; round++) {
      var map = new TreeMap<String, Object>();
      for (var i = random.nextInt(6); i >= 0; i--) {
        map.put(text(random), i % 3 == 0 ? (Object) (long) random.nextInt() : text(random));
      }
      var ours = CanonicalJson.write(map);
      assertThat(ours).isEqualTo(new JsonCanonicalizer(ours).getEncodedString());
      assertThat(CanonicalJson.write(map.descendingMap())).isEqualTo(ours);
      assertThat(CanonicalJson.write(new HashMap<>(map))).isEqualTo(ours);
    }
  }

  private static String text(Random random) {
    var characters = "ab\"\\/\b\f\n\r\t\u0001\u001fÓæ森🚢\u007f\u2028 ";
    var out = new StringBuilder();
    for (var i = random.nextInt(8); i >= 0; i--) {
      out.appendCodePoint(
          characters.codePointAt(
              characters.offsetByCodePoints(
                  0, random.nextInt(characters.codePointCount(0, characters.length())))));
    }
    return out.toString();
  }
}
