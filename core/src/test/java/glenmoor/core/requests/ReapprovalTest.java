package glenmoor.core.requests;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.requests.Reapproval.Event;
import java.util.EnumMap;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Every crossing of a re-request's life. */
class ReapprovalTest {
  private static final Map<Reapproval, Map<Event, Reapproval>> CROSSINGS =
      Map.of(
          Reapproval.DUE,
          new EnumMap<>(
              Map.of(
                  Event.REQUESTED, Reapproval.ASKED,
                  Event.GRANT_OVER, Reapproval.NOTHING_LEFT,
                  Event.MOVED_AGAIN, Reapproval.REPLACED)),
          Reapproval.ASKED,
          new EnumMap<>(
              Map.of(
                  Event.APPROVED, Reapproval.KEPT,
                  Event.NOT_APPROVED, Reapproval.ENDED,
                  Event.GRANT_OVER, Reapproval.NOTHING_LEFT,
                  Event.MOVED_AGAIN, Reapproval.REPLACED)));

  @Test
  void each_state_goes_where_it_may_and_nowhere_else() {
    for (var state : Reapproval.values()) {
      var crossings = CROSSINGS.getOrDefault(state, Map.of());
      assertThat(state.over()).isEqualTo(crossings.isEmpty());
      assertThat(Reapproval.ofWord(state.word())).isEqualTo(state);
      for (var event : Event.values()) {
        if (crossings.containsKey(event)) {
          assertThat(state.after(event)).isEqualTo(crossings.get(event));
        } else {
          assertThatThrownBy(() -> state.after(event))
              .as("%s %s", state, event)
              .isInstanceOf(IllegalStateException.class);
        }
      }
    }
  }
}
