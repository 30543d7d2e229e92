package glenmoor.engine.agenda;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.verifyNoInteractions;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.progress.Progress;
import glenmoor.engine.provisioning.Couriers;
import glenmoor.engine.provisioning.Planning;
import glenmoor.store.Database;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.OperationMapper;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.PlatformTransactionManager;

class AgendaTest extends InTheHouse {
  @Test
  void the_clock_goes_on_from_where_it_was_left() {
    house.at("2027-03-08T06:00:00Z");
    house.clock.remember();
    var restarted = house.sameClock();
    assertThat(restarted.instant()).isAfterOrEqualTo("2027-03-08T06:00:00Z");
    assertThat(house.happened("clock")).containsExactly("clock-moved");
  }

  @Test
  void it_never_goes_back() {
    var now = house.clock.instant();
    house.clock.moveTo(now.minusSeconds(60));
    assertThat(house.clock.instant()).isAfterOrEqualTo(now);
    assertThatThrownBy(() -> house.agenda.advance(Duration.ofDays(-1), House.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("forward");
  }

  @Test
  void it_stands_still_while_the_machine_s_clock_was_set_back() {
    var machine = new AtomicReference<>(Instant.parse("2026-11-23T12:00:00Z"));
    var clock =
        new MovableClock(
            house.times,
            Database.get(PlatformTransactionManager.class),
            House.MORNING,
            machine::get);
    var before = clock.instant();
    machine.set(machine.get().minusSeconds(3_600));
    assertThat(clock.instant()).isEqualTo(before);
    machine.set(machine.get().plusSeconds(3_610));
    assertThat(clock.instant()).isEqualTo(before.plusSeconds(10));
  }

  @Test
  void only_an_administrator_moves_it() {
    var una = new Actor("una", "Una Kerrow", "W-1", List.of());
    assertThatThrownBy(() -> house.agenda.advance(Duration.ofDays(1), una))
        .isInstanceOf(Refused.class);
  }

  @Test
  void the_real_clock_cannot_be_moved() {
    var ledger = mock(Ledger.class);
    var agenda =
        new Agenda(
            new SystemClock(),
            mock(Planning.class),
            mock(Couriers.class),
            mock(PersonMapper.class),
            mock(OperationMapper.class),
            mock(Progress.class),
            ledger);
    assertThatThrownBy(() -> agenda.advance(Duration.ofDays(1), House.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("real one");
    verifyNoInteractions(ledger);
  }

  @Test
  void the_record_through_time_follows_the_clock() {
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    house.at("2027-04-01T06:00:00Z");
    house.load("W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,");
    for (var at : new String[][] {{"2027-03-15", "Deck"}, {"2027-04-02", "Shipyard"}}) {
      assertThat(
              house.sql.queryForObject(
                  "select json_value(facts, '$.department') from person for system_time as of timestamp'"
                      + at[0]
                      + " 00:00:00'",
                  String.class))
          .isEqualTo(at[1]);
    }
  }

  @Test
  void two_services_go_by_one_clock_and_it_never_runs_backwards() {
    var other = house.sameClock();
    house.clock.moveTo(house.clock.instant().plusSeconds(86_400));
    var before = house.clock.instant();
    house.transactions.run(() -> {});
    assertThat(house.sameClock().instant()).isAfterOrEqualTo(before);
    other.moveTo(before.plusSeconds(3_600));
    house.transactions.run(() -> {});
    assertThat(house.clock.instant()).isAfterOrEqualTo(before.plusSeconds(3_600));
  }

  @Test
  void after_a_kill_and_a_long_night_it_goes_on_from_where_it_was() {
    house.transactions.run(() -> {});
    var read = house.clock.instant();
    house.sql.update("update movable_clock set alive_at = '2020-01-01'");
    var next = house.sameClock().instant();
    assertThat(next).isAfterOrEqualTo(read).isBefore(read.plusSeconds(8));
  }
}
