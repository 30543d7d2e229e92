package glenmoor.engine.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.store.provisioning.WorkerReplicaMapper;
import java.time.Duration;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** What an application bears at once holds however many services there are. */
class WorkerSharesTest extends EngineTest {
  private WorkerShares shares(String replica) {
    return new WorkerShares(
        environment.get(WorkerReplicaMapper.class), replica, Duration.ofSeconds(20));
  }

  @Test
  void one_alone_has_all_of_it() {
    var alone = shares("a");
    assertThat(alone.of(8, "chartshare")).isEqualTo(8);
    alone.look();
    assertThat(alone.of(8, "chartshare")).isEqualTo(8);
    assertThat(alone.others()).isFalse();
  }

  @Test
  void all_together_have_what_is_allowed_and_no_more() {
    var all = IntStream.range(0, 3).mapToObj(each -> shares("service-" + each)).toList();
    all.forEach(WorkerShares::look);
    all.forEach(WorkerShares::look);
    for (var application : List.of("chartshare", "directory", "slipworks")) {
      for (var allowed = 0; allowed < 12; allowed++) {
        var allowedNow = allowed;
        assertThat(all.stream().mapToInt(each -> each.of(allowedNow, application)).sum())
            .as("%s, %d", application, allowed)
            .isEqualTo(allowed);
      }
    }
    assertThat(all.getFirst().others()).isTrue();
  }

  @Test
  void what_one_had_goes_to_the_others_when_it_leaves_or_was_silent_for_long() {
    var stays = shares("stays");
    var leaves = shares("leaves");
    var dies = shares("dies");
    List.of(stays, leaves, dies).forEach(WorkerShares::look);
    stays.look();
    assertThat(stays.of(6, "chartshare")).isEqualTo(2);
    leaves.leave();
    stays.look();
    assertThat(stays.of(6, "chartshare")).isEqualTo(3);
    environment.sql.update(
        "update worker_replica set alive_at = sysdate(6) - interval 30 second where id = 'dies'");
    stays.look();
    assertThat(stays.of(6, "chartshare")).isEqualTo(6);
  }
}
