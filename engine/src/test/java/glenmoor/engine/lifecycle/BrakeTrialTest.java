package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Other limits, tried against feeds of the past. */
class BrakeTrialTest extends EngineTest {
  private static String[] people(int from, int to) {
    var rows = new ArrayList<String>();
    for (var i = from; i < to; i++) {
      rows.add("W-%d,Una,Kerrow,Deck,Westholm,,2020-01-01,,,".formatted(100 + i));
    }
    return rows.toArray(String[]::new);
  }

  @Test
  void other_limits_say_what_they_would_have_held_and_change_nothing() {
    var trial = environment.get(BrakeTrial.class);
    environment.load(people(0, 20));
    environment.load(people(2, 20));
    environment.load(people(14, 20));
    var inForce = trial.feeds(Map.of(), ISA);
    assertThat(inForce.tried()).isEqualTo(3);
    assertThat(inForce.held())
        .singleElement()
        .satisfies(held -> {
          assertThat(held.wasHeld()).isTrue();
          assertThat(held.sentences()).anyMatch(each -> each.startsWith("12 of 18 people"));
        });
    var stricter = trial.feeds(Map.of("missing", "1 or 1 %"), ISA);
    assertThat(stricter.held()).hasSize(2);
    assertThat(stricter.held().getLast().wasHeld()).isFalse();
    assertThat(stricter.limits()).containsEntry("missing", "1 or 1 %");
    assertThat(trial.feeds(Map.of("missing", "50 or 100 %", "losing", "50 or 100 %"), ISA).held())
        .isEmpty();
    assertThat(environment.catalogues.current().feedBrakes().limits().toString())
        .contains("100 or 5 %");
  }

  @Test
  void what_is_no_limit_is_refused_and_not_everybody_may_ask() {
    var trial = environment.get(BrakeTrial.class);
    assertThatThrownBy(() -> trial.feeds(Map.of("wheels", "1 or 1 %"), ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("no limit “wheels”; it has leavers");
    assertThatThrownBy(() -> trial.feeds(Map.of("leavers", "few"), ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("such as 200 or 5 %");
    assertThatThrownBy(() -> trial.feeds(Map.of(), new Actor("una", "Una", "W-1", List.of())))
        .isInstanceOf(Refused.class);
  }
}
