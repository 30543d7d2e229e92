package glenmoor.engine.provisioning;

import static glenmoor.engine.House.BO;
import static glenmoor.engine.House.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.store.Database;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.util.List;
import org.junit.jupiter.api.Test;

/** One result that cannot be kept keeps no other from being kept, and is not lost in silence. */
class RecorderTest extends InTheHouse {
  private static final long TOKEN = 77;
  private static final String LONGER_THAN_ANY = "x".repeat(70_000);

  private final OperationMapper operations = Database.get(OperationMapper.class);

  private Taken create(String worker) {
    var account =
        house.number(
            "select a.id from account a join person p on p.id = a.person_id where p.worker_number = '%s'"
                .formatted(worker));
    operations.lease(List.of((long) account), "by hand", TOKEN, 600);
    return operations.waiting(List.of((long) account)).getFirst();
  }

  private Recorder.LaneResult confirmed(Taken operation, String nativeId, String note) {
    var now = house.clock.instant();
    return new Recorder.LaneResult(
        operation.accountId(),
        TOKEN,
        List.of(
            new Recorder.Result(
                operation,
                OrderJson.read(operation.kind(), operation.payload()),
                new Outcome.Confirmed(nativeId, note),
                new OperationState.Confirmed(1, now, note),
                now)));
  }

  private String state(Taken operation) {
    return house.operations.show(operation.id(), House.ISA).state();
  }

  @Test
  void what_the_database_does_not_take_is_a_fault_alone() {
    house.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    house.recorder.start(lanes -> {});
    house.recorder.record(confirmed(una, LONGER_THAN_ANY, ""));
    house.recorder.record(confirmed(bo, "2".repeat(3_000), ""));
    House.eventually(() -> state(bo).equals("confirmed"));
    House.eventually(() -> state(una).equals("fault"));
    assertThat(house.operations.show(una.id(), House.ISA).reason()).contains("cannot be kept");
    assertThat(house.number("select length(native_id) from account where native_id is not null"))
        .as("an identity of any length is kept whole")
        .isEqualTo(3_000);
  }

  @Test
  void of_two_accounts_that_claim_the_same_native_id_in_one_moment_one_is_a_fault() {
    house.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    house.recorder.record(confirmed(una, "same", ""));
    house.recorder.record(confirmed(bo, "same", ""));
    house.recorder.start(lanes -> {});
    House.eventually(() -> state(una).equals("confirmed"));
    House.eventually(() -> state(bo).equals("fault"));
    assertThat(house.operations.show(bo.id(), House.ISA).reason())
        .contains("belongs to another account already");
  }

  @Test
  void an_account_that_claims_a_native_id_of_another_is_a_fault() {
    house.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    house.recorder.start(lanes -> {});
    house.recorder.record(confirmed(una, "same", ""));
    House.eventually(() -> state(una).equals("confirmed"));
    house.recorder.record(confirmed(bo, "same", ""));
    House.eventually(() -> state(bo).equals("fault"));
    assertThat(house.operations.show(bo.id(), House.ISA).reason())
        .contains("belongs to another account already");
    assertThat(house.number("select count(*) from account where native_id = 'same'")).isOne();
  }

  @Test
  void what_comes_of_it_is_cut_to_what_can_be_kept() {
    house.load(UNA);
    var una = create("W-1");
    house.recorder.start(lanes -> {});
    house.recorder.record(confirmed(una, "1", LONGER_THAN_ANY));
    House.eventually(() -> state(una).equals("confirmed"));
    assertThat(house.operations.show(una.id(), House.ISA).reason()).hasSizeLessThan(1_001);
  }
}
