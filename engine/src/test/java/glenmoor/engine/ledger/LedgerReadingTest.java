package glenmoor.engine.ledger;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.ledger.LedgerReading.Asked;
import glenmoor.engine.ledger.LedgerReading.Read;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The ledger is read by names. */
class LedgerReadingTest extends EngineTest {
  private LedgerReading reading;

  @BeforeEach
  void load() {
    environment.load(UNA, BO);
    reading = environment.get(LedgerReading.class);
  }

  private List<Read> about(@Nullable String text) {
    return reading.search(new Asked(text, null, null, null, null, 200), ISA);
  }

  @Test
  void what_is_about_a_person_has_their_name() {
    assertThat(about("person:W-1")).isNotEmpty().allMatch(each -> "Una Kerrow".equals(each.name()));
    assertThat(about(null))
        .filteredOn(each -> each.entry().subject().startsWith("feed:"))
        .isNotEmpty()
        .allMatch(each -> each.name() == null);
  }

  @Test
  void a_part_of_a_name_or_a_worker_number_finds_them() {
    assertThat(about("kerr")).hasSameSizeAs(about("person:W-1"));
    assertThat(about(" w-2 ")).hasSameSizeAs(about("person:W-2"));
    assertThat(about("nobody is called this")).isEmpty();
    assertThat(about("%")).as("a letter, not everybody").isEmpty();
  }

  @Test
  void only_whoever_reads_the_ledger_does() {
    var nobody = new Actor("tam", "Tam", "W-1", List.of());
    assertThatThrownBy(() -> reading.search(new Asked("kerr", null, null, null, null, 10), nobody))
        .isInstanceOf(Refused.class);
  }
}
