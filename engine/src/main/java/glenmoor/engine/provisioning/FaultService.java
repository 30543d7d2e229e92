package glenmoor.engine.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.DeviationView;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.Authorization;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.NewDeviation;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** What people decide about faults beside trying again: done by hand, or given up until a day. */
@Named
public final class FaultService {
  private static final JsonMapper JSON = JsonMapper.shared();

  private final OperationService operations;
  private final OperationMapper outbox;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final OperationWorkers workers;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  public FaultService(
      OperationService operations,
      OperationMapper outbox,
      PersonMapper people,
      AccountMapper accounts,
      OperationWorkers workers,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.operations = operations;
    this.outbox = outbox;
    this.people = people;
    this.accounts = accounts;
    this.workers = workers;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  public OperationView byHand(long id, String note, Actor actor) {
    return decide(
        id,
        actor,
        () -> new StatedReason(note),
        new Transition.DoneByHand(clock.instant(), note),
        "operation-by-hand",
        note);
  }

  /**
   * Accepts that what an operation should bring about is not so, until a date.
   *
   * @param until the last day of it; null for the usual 90 days
   */
  public OperationView giveUp(long id, String reason, @Nullable LocalDate until, Actor actor) {
    return decide(
        id,
        actor,
        () -> {
          new StatedReason(reason);
          end(until);
        },
        new Transition.LetGo(clock.instant(), reason),
        "operation-given-up",
        reason,
        row -> deviate(row, reason, end(until), actor));
  }

  private Instant end(@Nullable LocalDate until) {
    return Terms.end(until, clock.instant(), catalogues.zone());
  }

  private void deviate(OperationRow row, String reason, Instant until, Actor actor) {
    var command = CommandJson.read(row.kind(), row.payload());
    if (command instanceof ProvisioningCommand.SetPassword
        || command instanceof ProvisioningCommand.HandOver) {
      return;
    }
    var now = clock.instant();
    outbox.deviate(
        new NewDeviation(
            ids.next(),
            row.accountId(),
            row.personId(),
            row.application(),
            command.aspect(),
            row.id(),
            actor.login(),
            reason,
            now,
            until));
    if (row.opensLane()) {
      var behind =
          outbox.open(List.of(row.accountId())).stream()
              .filter(each -> each.id() != (long) row.id())
              .map(each ->
                  ResultBatch.row(
                      each.id(),
                      new OperationState.Superseded(
                          now, row.id(), "making the account was given up"),
                      null))
              .toList();
      if (!behind.isEmpty()) {
        outbox.record(JSON.writeValueAsString(behind));
      }
    }
    // Planning must look again when it runs out.
    people.dueFor(List.of(row.personId()), now, "given-up:" + row.id());
  }

  /** Differences that somebody answers for, in an application or in all. */
  public List<DeviationView> deviations(
      @Nullable String application, @Nullable Long after, int limit, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    operations.applicationExists(application, reach);
    return outbox.deviationsIn(application, reach.keys(), after, limit);
  }

  private OperationView decide(
      long id, Actor actor, Runnable check, Transition transition, String what, String reason) {
    return decide(id, actor, check, transition, what, reason, row -> {});
  }

  private OperationView decide(
      long id,
      Actor actor,
      Runnable check,
      Transition transition,
      String what,
      String reason,
      Consumer<OperationRow> besides) {
    Authorization.applications(actor, Permission.DECIDE_OPERATIONS);
    check.run();
    transactions.run(() -> {
      var row = operations.locked(id, actor);
      var after = OperationStates.moved(OperationStates.of(row), transition);
      var result = ResultBatch.row(row.id(), after, null);
      outbox.record(JSON.writeValueAsString(List.of(decidedBy(actor, row, result))));
      seenByHand(row, after, clock.instant());
      besides.accept(row);
      outbox.due(List.of(new LaneRow(row.accountId(), row.application(), clock.instant())));
      outbox.look(List.of(row.accountId()));
      ledger.append(
          new LedgerEntry(
              transition.at(),
              actor.login(),
              "operation:" + id,
              "operation:" + id,
              what,
              Map.of("state", row.state(), "reason", row.reason()),
              Map.of("state", after.word(), "reason", reason)));
    });
    workers.wake();
    return operations.show(id, actor);
  }

  /** Done by hand counts as seen, because somebody looked and signed for it. */
  private void seenByHand(OperationRow row, OperationState after, Instant now) {
    if (!(after instanceof OperationState.ByHand)) {
      return;
    }
    var command = CommandJson.read(row.kind(), row.payload());
    var at = SqlTime.write(now);
    switch (command) {
      case ProvisioningCommand.Create create ->
          seen(
              row,
              create.state().word(),
              create.name(),
              create.container(),
              CanonicalJson.write(create.attributes()));
      case ProvisioningCommand.Update update ->
          seen(
              row,
              null,
              update.name(),
              update.container(),
              CanonicalJson.write(update.attributes()));
      case ProvisioningCommand.Enable e -> seen(row, "enabled", null, null, null);
      case ProvisioningCommand.Disable d -> seen(row, "disabled", null, null, null);
      case ProvisioningCommand.Delete d -> seen(row, "none", "", "", "{}");
      case ProvisioningCommand.Add add -> observed(row, add.entitlement(), 1, at);
      case ProvisioningCommand.Remove remove -> observed(row, remove.entitlement(), 0, at);
      case ProvisioningCommand.SetPassword s -> {}
      case ProvisioningCommand.HandOver h -> {}
    }
  }

  private void seen(
      OperationRow row,
      @Nullable String state,
      @Nullable String name,
      @Nullable String container,
      @Nullable String attributes) {
    accounts.seen(
        JSON.writeValueAsString(
            List.of(
                new AccountMapper.Seen(
                    row.accountId(),
                    row.application(),
                    state,
                    name,
                    container,
                    attributes,
                    null))));
  }

  private void observed(OperationRow row, String entitlement, int observed, String at) {
    accounts.observe(
        JSON.writeValueAsString(
            List.of(new AccountMapper.Observed(row.accountId(), entitlement, observed, at))));
  }

  private static OperationMapper.Result decidedBy(
      Actor actor, OperationRow row, OperationMapper.Result result) {
    return new OperationMapper.Result(
        result.id(),
        result.state(),
        row.attempts(),
        result.notBefore(),
        result.reason(),
        result.sentAt(),
        result.settledAt(),
        actor.login(),
        result.supersededBy(),
        result.mark());
  }
}
