package glenmoor.core.jobs;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.Test;

class GrowingPauseTest {
  private static final GrowingPause PAUSE =
      new GrowingPause(Duration.ofMinutes(1), Duration.ofHours(12));

  @Test
  void pauses_double_up_to_the_longest() {
    assertThat(PAUSE.after(0)).isEqualTo(Duration.ofMinutes(1));
    assertThat(PAUSE.after(1)).isEqualTo(Duration.ofMinutes(2));
    assertThat(PAUSE.after(9)).isEqualTo(Duration.ofMinutes(512));
    assertThat(PAUSE.after(10)).isEqualTo(Duration.ofHours(12));
  }

  @Test
  void however_many_there_were_the_pause_is_the_longest() {
    assertThat(PAUSE.after(Integer.MAX_VALUE)).isEqualTo(Duration.ofHours(12));
  }
}
