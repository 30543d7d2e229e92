package glenmoor.core.erasure;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HexFormat;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ErasedEntryTest {
  @Test
  void of_an_event_no_fact_stays_whatever_it_is_called() {
    assertThat(ErasedEntry.of("mover", Map.of("kind", "employee", "grade", 7)))
        .isEqualTo(Map.of("kind", "erased", "grade", "erased"));
  }

  @Test
  void of_access_it_stays_what_it_was_and_when() {
    assertThat(
            ErasedEntry.of(
                "operation-confirmed",
                Map.of(
                    "account", "nessc",
                    "cause", "event:7",
                    "command", Map.of("state", "enabled", "attributes", Map.of("state", "Ness")))))
        .isEqualTo(
            Map.of(
                "account", "erased",
                "cause", "event:7",
                "command", Map.of("state", "enabled", "attributes", Map.of("state", "erased"))));
  }

  /** The hash of an empty leaf is that of a single zero byte. */
  @Test
  void a_leaf_is_hashed_as_the_standard_has_it() {
    assertThat(HexFormat.of().formatHex(ErasedEntry.leaf("")))
        .isEqualTo("6e340b9cffb37a989ca544e6bb780a2c78901d3fb33738768511a30617afa01d");
  }
}
