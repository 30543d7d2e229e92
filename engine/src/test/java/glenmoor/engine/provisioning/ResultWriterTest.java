package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.store.Database;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** One result that cannot be kept keeps no other from being kept, and is not lost in silence. */
class ResultWriterTest extends EngineTest {
  private static final long TOKEN = 77;
  private static final String LONGER_THAN_ANY = "x".repeat(70_000);

  private final OperationMapper operations = Database.get(OperationMapper.class);

  private Taken create(String worker) {
    var account =
        environment.number(
            "select a.id from account a join person p on p.id = a.person_id where p.worker_number = '%s'"
                .formatted(worker));
    operations.lease(List.of((long) account), "by hand", TOKEN, 600);
    return operations.waiting(List.of((long) account)).getFirst();
  }

  private ResultWriter.LaneResult confirmed(Taken operation, String nativeId, String note) {
    var now = environment.clock.instant();
    return new ResultWriter.LaneResult(
        operation.accountId(),
        TOKEN,
        List.of(
            new ResultWriter.Result(
                operation,
                CommandJson.read(operation.kind(), operation.payload()),
                new Outcome.Confirmed(nativeId, note),
                new OperationState.Confirmed(1, now, note),
                now)));
  }

  private String state(Taken operation) {
    return environment.operations.show(operation.id(), TestEnvironment.ISA).state();
  }

  @Test
  void what_the_database_does_not_take_is_a_fault_alone() {
    environment.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    environment.resultWriter.start(lanes -> {});
    environment.resultWriter.record(confirmed(una, LONGER_THAN_ANY, ""));
    environment.resultWriter.record(confirmed(bo, "2".repeat(3_000), ""));
    TestEnvironment.eventually(() -> state(bo).equals("confirmed"));
    TestEnvironment.eventually(() -> state(una).equals("fault"));
    assertThat(environment.operations.show(una.id(), TestEnvironment.ISA).reason())
        .contains("cannot be kept");
    assertThat(
            environment.number("select length(native_id) from account where native_id is not null"))
        .as("an identity of any length is kept whole")
        .isEqualTo(3_000);
  }

  @Test
  void of_two_accounts_that_claim_the_same_native_id_in_one_moment_one_is_a_fault() {
    environment.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    environment.resultWriter.record(confirmed(una, "same", ""));
    environment.resultWriter.record(confirmed(bo, "same", ""));
    environment.resultWriter.start(lanes -> {});
    TestEnvironment.eventually(
        () -> new HashSet<>(List.of(state(una), state(bo))).equals(Set.of("confirmed", "fault")));
    var second = state(una).equals("fault") ? una : bo;
    assertThat(environment.operations.show(second.id(), TestEnvironment.ISA).reason())
        .contains("belongs to another account already");
    assertThat(environment.number("select count(*) from account where native_id = 'same'")).isOne();
  }

  @Test
  void what_comes_under_an_old_lease_does_not_count_beside_what_comes_under_the_present_one() {
    environment.load(UNA);
    var una = create("W-1");
    var now = environment.clock.instant();
    var old =
        new ResultWriter.LaneResult(
            una.accountId(),
            TOKEN - 1,
            List.of(
                new ResultWriter.Result(
                    una,
                    CommandJson.read(una.kind(), una.payload()),
                    new Outcome.Refused("too late"),
                    new OperationState.Fault(1, now, "too late"),
                    now)));
    environment.transactions.run(() ->
        new ResultBatch(
                operations,
                Database.get(AccountMapper.class),
                Database.get(PersonMapper.class),
                environment.ledger,
                List.of(old, confirmed(una, "1", ""), old))
            .write());
    assertThat(state(una)).isEqualTo("confirmed");
    assertThat(
            environment.sql.queryForList(
                "select what from ledger_entry where cause = 'operation:%d'".formatted(una.id()),
                String.class))
        .containsExactly("operation-confirmed");
  }

  @Test
  void an_account_that_claims_a_native_id_of_another_is_a_fault() {
    environment.load(UNA, BO);
    var una = create("W-1");
    var bo = create("W-2");
    environment.resultWriter.start(lanes -> {});
    environment.resultWriter.record(confirmed(una, "same", ""));
    TestEnvironment.eventually(() -> state(una).equals("confirmed"));
    environment.resultWriter.record(confirmed(bo, "same", ""));
    TestEnvironment.eventually(() -> state(bo).equals("fault"));
    assertThat(environment.operations.show(bo.id(), TestEnvironment.ISA).reason())
        .contains("belongs to another account already");
    assertThat(environment.number("select count(*) from account where native_id = 'same'")).isOne();
  }

  @Test
  void what_comes_of_it_is_cut_to_what_can_be_kept() {
    environment.load(UNA);
    var una = create("W-1");
    environment.resultWriter.start(lanes -> {});
    environment.resultWriter.record(confirmed(una, "1", LONGER_THAN_ANY));
    TestEnvironment.eventually(() -> state(una).equals("confirmed"));
    assertThat(environment.operations.show(una.id(), TestEnvironment.ISA).reason())
        .hasSizeLessThan(1_001);
  }
}
