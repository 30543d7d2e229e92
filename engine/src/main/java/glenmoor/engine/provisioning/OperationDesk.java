package glenmoor.engine.provisioning;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.CannotHappen;
import glenmoor.core.provisioning.OperationState.Happening;
import glenmoor.core.provisioning.OperationState.Patience;
import glenmoor.core.provisioning.Order;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Allow;
import glenmoor.store.Bulk;
import glenmoor.store.agenda.Ids;
import glenmoor.store.agenda.SqlTime;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import glenmoor.store.provisioning.OperationMapper.OperationSearch;
import glenmoor.store.provisioning.OperationMapper.OperationView;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** What people see of operations, and decide about faults. */
public final class OperationDesk {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int MOST_AT_ONCE = 1_000;

  /** A passcode that was issued: shown once, kept nowhere in the open. */
  public record Issued(long operation, String account, String passcode) {}

  private final OperationMapper operations;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final Couriers couriers;
  private final Secrets secrets;
  private final Transactions transactions;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  public OperationDesk(
      OperationMapper operations,
      PersonMapper people,
      AccountMapper accounts,
      Couriers couriers,
      Secrets secrets,
      Transactions transactions,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.bulk = bulk;
    this.operations = operations;
    this.people = people;
    this.accounts = accounts;
    this.couriers = couriers;
    this.secrets = secrets;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  public List<OperationView> search(OperationSearch search, Actor actor) {
    Allow.seeingApplications(actor);
    return operations.search(search);
  }

  public OperationView show(long id, Actor actor) {
    Allow.seeingApplications(actor);
    var view = operations.view(id);
    if (view == null) {
      throw noSuch(id);
    }
    return view;
  }

  private static Refused noSuch(long id) {
    return Refused.notThere(
        "There is no operation " + id + "; glenmoor operations list shows those there are.");
  }

  public OperationView retry(long id, Actor actor) {
    return decide(id, actor, new Happening.AskedAgain(clock.instant()), "operation-retried", "");
  }

  public OperationView byHand(long id, String note, Actor actor) {
    reasonIsNeeded(note, "what was done");
    return decide(
        id, actor, new Happening.DoneByHand(clock.instant(), note), "operation-by-hand", note);
  }

  public OperationView giveUp(long id, String reason, Actor actor) {
    reasonIsNeeded(reason, "why it need not be done");
    return decide(
        id, actor, new Happening.LetGo(clock.instant(), reason), "operation-given-up", reason);
  }

  /** Tries all faults of an application again, or all there are. */
  public int retryAll(@Nullable String application, Actor actor) {
    Allow.mendingOperations(actor);
    var faults = operations.faults(application, MOST_AT_ONCE);
    faults.forEach(id -> retry(id, actor));
    return faults.size();
  }

  private static void reasonIsNeeded(String reason, String what) {
    if (reason.isBlank()) {
      throw Refused.badInput("Say " + what + ": it is kept with the operation.");
    }
  }

  private OperationView decide(
      long id, Actor actor, Happening happening, String what, String reason) {
    Allow.mendingOperations(actor);
    transactions.run(() -> {
      var row = operations.lock(id);
      if (row == null) {
        throw noSuch(id);
      }
      var after = moved(state(row), happening);
      record(row, after, actor);
      ledger.append(
          new LedgerEntry(
              happening.at(),
              actor.login(),
              "operation:" + id,
              "operation:" + id,
              what,
              Map.of("state", row.state(), "reason", row.reason()),
              Map.of("state", after.word(), "reason", reason)));
    });
    couriers.ring();
    return show(id, actor);
  }

  private static OperationState moved(OperationState state, Happening happening) {
    try {
      return state.after(happening, Patience.USUAL);
    } catch (CannotHappen cannot) {
      throw new Refused(Refused.Reason.NOT_NOW, String.valueOf(cannot.getMessage()));
    }
  }

  private static OperationState state(OperationRow row) {
    return switch (row.state()) {
      case "waiting" -> new OperationState.Waiting(row.attempts(), row.notBefore(), row.reason());
      case "fault" -> new OperationState.Fault(row.attempts(), row.notBefore(), row.reason());
      case "confirmed" ->
          new OperationState.Confirmed(row.attempts(), row.notBefore(), row.reason());
      case "by-hand" -> new OperationState.ByHand(row.notBefore(), row.reason());
      default -> new OperationState.GivenUp(row.notBefore(), row.reason());
    };
  }

  private void record(OperationRow row, OperationState after, Actor actor) {
    var now = clock.instant();
    var result =
        switch (after) {
          case OperationState.Waiting w ->
              Recorder.row(
                  row.id(), w.word(), w.attempts(), w.notBefore(), w.lastReason(), null, null);
          case OperationState.ByHand b ->
              Recorder.row(row.id(), b.word(), row.attempts(), now, b.note(), null, now);
          case OperationState.GivenUp g ->
              Recorder.row(row.id(), g.word(), row.attempts(), now, g.reason(), null, now);
          case OperationState.Confirmed c -> throw new CannotHappen(c);
          case OperationState.Fault f -> throw new CannotHappen(f);
        };
    operations.record(JSON.writeValueAsString(List.of(decidedBy(actor, result))));
    seenByHand(row, after, now);
    operations.due(List.of(new LaneRow(row.accountId(), row.application(), now)));
  }

  /** Done by hand counts as seen, because somebody looked and signed for it. */
  private void seenByHand(OperationRow row, OperationState after, Instant now) {
    if (!(after instanceof OperationState.ByHand)) {
      return;
    }
    var order = OrderJson.read(row.kind(), row.payload());
    var at = SqlTime.write(now);
    switch (order) {
      case Order.Create create -> seen(row, create.state().word());
      case Order.Enable e -> seen(row, "enabled");
      case Order.Disable d -> seen(row, "disabled");
      case Order.Delete d -> seen(row, "none");
      case Order.Add add -> held(row, add.entitlement(), 1, at);
      case Order.Remove remove -> held(row, remove.entitlement(), 0, at);
      case Order.Update u -> {}
      case Order.SetPassword s -> {}
    }
  }

  private void seen(OperationRow row, String state) {
    accounts.seen(
        JSON.writeValueAsString(List.of(new AccountMapper.Seen(row.accountId(), state, ""))));
  }

  private void held(OperationRow row, String entitlement, int held, String at) {
    accounts.held(
        JSON.writeValueAsString(
            List.of(new AccountMapper.Held(row.accountId(), entitlement, held, at))));
  }

  private static OperationMapper.Result decidedBy(Actor actor, OperationMapper.Result result) {
    return new OperationMapper.Result(
        result.id(),
        result.state(),
        result.attempts(),
        result.notBefore(),
        result.reason(),
        result.sentAt(),
        result.settledAt(),
        actor.login());
  }

  /** Gives an account a new password that nobody knows yet, and tells it once. */
  public Issued issuePasscode(String worker, String application, Actor actor) {
    Allow.issuingPasscodes(actor);
    var passcode = secrets.passcode();
    var issued =
        transactions.run(() -> {
          var person = people.byWorker(worker);
          if (person == null) {
            throw Refused.notThere("Nobody has the worker number " + worker + ".");
          }
          var account =
              accounts.of(List.of(person.id())).stream()
                  .filter(each -> each.application().equals(application))
                  .filter(each -> !each.state().equals("none"))
                  .findFirst()
                  .orElseThrow(() ->
                      Refused.notThere(
                          "%s has no account in %s.".formatted(person.name(), application)));
          var operation = ids.next();
          bulk.insert(
              "operation", List.of(setPassword(operation, account, actor, secrets.seal(passcode))));
          accounts.nextSequence(account.id(), account.nextSequence() + 1);
          operations.due(List.of(new LaneRow(account.id(), application, clock.instant())));
          ledger.append(
              new LedgerEntry(
                  clock.instant(),
                  actor.login(),
                  "",
                  "person:" + worker,
                  "passcode-issued",
                  Map.of(),
                  Map.of("application", application, "account", account.name())));
          return new Issued(operation, account.name(), passcode);
        });
    couriers.ring();
    return issued;
  }

  private OperationRow setPassword(
      long id, AccountMapper.AccountRow account, Actor actor, String sealed) {
    var now = clock.instant();
    var order = new Order.SetPassword(sealed);
    return new OperationRow(
        id,
        account.id(),
        account.personId(),
        account.application(),
        null,
        "asked:" + actor.login(),
        account.nextSequence(),
        order.word(),
        false,
        OrderJson.write(order),
        "waiting",
        0,
        now,
        "",
        now,
        null,
        null,
        "");
  }
}
