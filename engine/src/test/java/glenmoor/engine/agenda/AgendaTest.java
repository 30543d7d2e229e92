package glenmoor.engine.agenda;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verifyNoInteractions;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.definitions.DueMarks;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.SystemClock;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.OperationMapper;
import java.time.Duration;
import java.util.List;
import org.junit.jupiter.api.Test;

class AgendaTest extends EngineTest {
  @Test
  void the_clock_goes_on_from_where_it_was_left() {
    environment.at("2027-03-08T06:00:00Z");
    environment.clock.remember();
    var restarted = environment.sameClock();
    assertThat(restarted.instant()).isAfterOrEqualTo("2027-03-08T06:00:00Z");
    assertThat(environment.happened("clock")).containsExactly("clock-moved");
  }

  @Test
  void it_never_goes_back() {
    var now = environment.clock.instant();
    environment.clock.moveTo(now.minusSeconds(60));
    assertThat(environment.clock.instant()).isAfterOrEqualTo(now);
    assertThatThrownBy(() -> environment.agenda.advance(Duration.ofDays(-1), TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("forward");
  }

  @Test
  void only_an_administrator_moves_it() {
    var una = new Actor("una", "Una Kerrow", "W-1", List.of());
    assertThatThrownBy(() -> environment.agenda.advance(Duration.ofDays(1), una))
        .isInstanceOf(Refused.class);
  }

  @Test
  void the_real_clock_cannot_be_moved() {
    var ledger = mock(Ledger.class);
    var agenda =
        new Agenda(
            new SystemClock(),
            mock(Planning.class),
            mock(OperationWorkers.class),
            mock(PersonMapper.class),
            mock(OperationMapper.class),
            environment.connections,
            mock(Jobs.class),
            ledger,
            environment.transactions,
            mock(DueMarks.class),
            List.of());
    assertThatThrownBy(() -> agenda.advance(Duration.ofDays(1), TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("real one");
    verifyNoInteractions(ledger);
  }

  @Test
  void the_record_through_time_follows_the_clock() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    environment.at("2027-04-01T06:00:00Z");
    environment.load("W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,");
    for (var at : new String[][] {{"2027-03-15", "Deck"}, {"2027-04-02", "Shipyard"}}) {
      assertThat(
              environment.sql.queryForObject(
                  "select json_value(facts, '$.department') from person for system_time as of timestamp'"
                      + at[0]
                      + " 00:00:00'",
                  String.class))
          .isEqualTo(at[1]);
    }
  }

  @Test
  void two_services_go_by_one_clock_and_it_never_runs_backwards() {
    var other = environment.sameClock();
    environment.clock.moveTo(environment.clock.instant().plusSeconds(86_400));
    var before = environment.clock.instant();
    environment.transactions.run(() -> {});
    assertThat(environment.sameClock().instant()).isAfterOrEqualTo(before);
    other.moveTo(before.plusSeconds(3_600));
    environment.transactions.run(() -> {});
    assertThat(environment.clock.instant()).isAfterOrEqualTo(before.plusSeconds(3_600));
  }

  @Test
  void after_a_kill_and_a_long_night_it_goes_on_from_where_it_was() {
    environment.transactions.run(() -> {});
    var read = environment.clock.instant();
    environment.sql.update("update movable_clock set alive_at = '2020-01-01'");
    var next = environment.sameClock().instant();
    assertThat(next).isAfterOrEqualTo(read).isBefore(read.plusSeconds(8));
  }
}
