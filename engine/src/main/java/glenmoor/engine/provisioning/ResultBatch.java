package glenmoor.engine.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.ResultWriter.LaneResult;
import glenmoor.engine.provisioning.ResultWriter.Result;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.time.SqlTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes what came of one batch of lanes, inside a transaction. Each write rests on what it was
 * decided on: the lane's lease still has its token, and the operation still waits.
 */
final class ResultBatch {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Logger LOG = LoggerFactory.getLogger(ResultBatch.class);
  private static final int LONGEST_REASON = 1_000;

  private final OperationMapper operations;
  private final AccountMapper accounts;
  private final PersonMapper people;
  private final Ledger ledger;
  private final List<LaneResult> lanes;
  private final List<OperationMapper.Result> results = new ArrayList<>();
  private final List<AccountMapper.Seen> seen = new ArrayList<>();
  private final Map<String, AccountMapper.Observed> observed = new LinkedHashMap<>();
  private final List<LedgerEntry> entries = new ArrayList<>();
  private final Map<Long, Result> gone = new LinkedHashMap<>();
  private final List<Long> emptied = new ArrayList<>();

  ResultBatch(
      OperationMapper operations,
      AccountMapper accounts,
      PersonMapper people,
      Ledger ledger,
      List<LaneResult> lanes) {
    this.operations = operations;
    this.accounts = accounts;
    this.people = people;
    this.ledger = ledger;
    this.lanes = lanes;
  }

  void write() {
    var current = ours(current());
    for (var lane : current) {
      var now = new SeenNow();
      for (var result : lane.results()) {
        results.add(row(result));
        entry(result, entries);
        if (result.outcome() instanceof Outcome.Gone) {
          gone.put(lane.account(), result);
        } else if (result.outcome() instanceof Outcome.Confirmed confirmed
            && result.state() instanceof OperationState.Confirmed) {
          now.take(result.command(), confirmed.nativeId());
          hold(result);
          if (result.command() instanceof ProvisioningCommand.Delete) {
            emptied.add(lane.account());
          }
        }
      }
      now.row(lane).ifPresent(seen::add);
    }
    if (!results.isEmpty()) {
      operations.record(JSON.writeValueAsString(results));
    }
    if (!seen.isEmpty()) {
      accounts.seen(JSON.writeValueAsString(seen));
    }
    if (!observed.isEmpty()) {
      accounts.observe(JSON.writeValueAsString(observed.values()));
    }
    if (!emptied.isEmpty()) {
      accounts.nothingObserved(emptied);
    }
    gone();
    ledger.append(entries);
    if (!current.isEmpty()) {
      operations.release(
          current.stream().map(LaneResult::account).toList(),
          current.stream().map(LaneResult::token).distinct().toList());
    }
  }

  /** What comes late, under a lease that is another's by now, or of what is settled, is dropped. */
  private List<LaneResult> current() {
    var leased = new HashSet<Lease>();
    var waiting = new HashSet<Long>();
    for (var row :
        operations.current(
            JSON.writeValueAsString(lanes.stream().map(ResultBatch::came).toList()))) {
      leased.add(new Lease(row.accountId(), row.token()));
      waiting.add(row.operationId());
    }
    if (leased.size() < lanes.size()) {
      LOG.info(
          "{} lanes came back after their lease; nothing of them is written",
          lanes.size() - leased.size());
    }
    return lanes.stream()
        .filter(lane -> leased.contains(new Lease(lane.account(), lane.token())))
        .map(lane ->
            new LaneResult(
                lane.account(),
                lane.token(),
                lane.results().stream().filter(r -> waiting.contains(r.operation().id())).toList()))
        .toList();
  }

  /** A lane under one of its leases: an old one and the present one can come in one batch. */
  private record Lease(long account, long token) {}

  private static OperationMapper.Came came(LaneResult lane) {
    return new OperationMapper.Came(
        lane.account(),
        lane.token(),
        lane.results().stream().map(result -> result.operation().id()).toList());
  }

  /** An account that was seen under a native id that is another's is a fault, not confirmed. */
  private List<LaneResult> ours(List<LaneResult> current) {
    var claims = new LinkedHashMap<Long, AccountMapper.Seen>();
    for (var lane : current) {
      var now = new SeenNow();
      lane.results()
          .forEach(result -> {
            if (result.outcome() instanceof Outcome.Confirmed confirmed
                && !confirmed.nativeId().isEmpty()
                && !confirmed.nativeId().equals(result.operation().nativeId())) {
              now.take(result.command(), confirmed.nativeId());
            }
          });
      now.row(lane)
          .filter(row -> row.nativeId() != null)
          .ifPresent(row -> claims.put(lane.account(), row));
    }
    if (claims.isEmpty()) {
      return current;
    }
    var others =
        accounts.owners(JSON.writeValueAsString(claims.values())).stream()
            .map(AccountMapper.Owner::claimedBy)
            .collect(Collectors.toCollection(HashSet::new));
    var first = new HashSet<String>();
    claims.forEach((account, row) -> {
      if (!first.add(row.application() + " " + row.nativeId())) {
        others.add(account);
      }
    });
    return current.stream()
        .map(lane -> others.contains(lane.account()) ? refused(lane) : lane)
        .toList();
  }

  private LaneResult refused(LaneResult lane) {
    return new LaneResult(
        lane.account(),
        lane.token(),
        lane.results().stream()
            .map(result -> {
              if (!(result.state() instanceof OperationState.Confirmed confirmed)) {
                return result;
              }
              var reason =
                  "What was found in the application belongs to another account already. Give the two different worker numbers there, then try again.";
              return new Result(
                  result.operation(),
                  result.command(),
                  new Outcome.Refused(reason),
                  new OperationState.Fault(confirmed.attempts(), confirmed.at(), reason),
                  result.sentAt());
            })
            .toList());
  }

  private void hold(Result result) {
    var account = result.operation().accountId();
    var at = SqlTime.write(result.sentAt());
    if (result.command() instanceof ProvisioningCommand.Add add) {
      observed.put(
          account + add.entitlement(),
          new AccountMapper.Observed(account, add.entitlement(), 1, at));
    } else if (result.command() instanceof ProvisioningCommand.Remove remove) {
      observed.put(
          account + remove.entitlement(),
          new AccountMapper.Observed(account, remove.entitlement(), 0, at));
    }
  }

  /**
   * An account that is gone holds nothing, and nothing that waits for it can be done: its person is
   * planned anew, and it is made again if it is desired.
   */
  private void gone() {
    if (gone.isEmpty()) {
      return;
    }
    var settled = results.stream().map(OperationMapper.Result::id).collect(Collectors.toSet());
    var overtaken = new ArrayList<OperationMapper.Result>();
    for (var open : operations.open(gone.keySet())) {
      var result = gone.get(open.accountId());
      if (!settled.contains(open.id()) && result != null) {
        overtaken.add(
            row(
                open.id(),
                new OperationState.Superseded(
                    result.sentAt(), OperationState.NOBODY, "the account is gone; planned anew"),
                null));
      }
    }
    if (!overtaken.isEmpty()) {
      operations.record(JSON.writeValueAsString(overtaken));
    }
    accounts.gone(gone.keySet());
    accounts.nothingObserved(gone.keySet());
    gone.forEach((account, result) -> {
      var operation = result.operation();
      people.dueFor(
          List.of(operation.personId()), result.sentAt(), "drift:" + operation.application());
      entries.add(
          new LedgerEntry(
              result.sentAt(),
              "connector:" + operation.application(),
              "operation:" + operation.id(),
              "person:" + operation.workerNumber(),
              "account-gone",
              Map.of("account", operation.accountName()),
              Map.of()));
    });
  }

  /** What the results of one lane showed of its account, the last of each. */
  private static final class SeenNow {
    private @Nullable String state;
    private @Nullable String name;
    private @Nullable String container;
    private @Nullable String attributes;
    private @Nullable String nativeId;

    void take(ProvisioningCommand command, String id) {
      switch (command) {
        case ProvisioningCommand.Create create -> {
          state = create.state().word();
          content(create.name(), create.container(), create.attributes());
        }
        case ProvisioningCommand.Update update ->
            content(update.name(), update.container(), update.attributes());
        case ProvisioningCommand.Enable e -> state = AccountState.ENABLED.word();
        case ProvisioningCommand.Disable d -> state = AccountState.DISABLED.word();
        case ProvisioningCommand.Delete d -> {
          state = AccountState.NONE.word();
          content("", "", Map.of());
        }
        case ProvisioningCommand.Add a -> {}
        case ProvisioningCommand.Remove r -> {}
        case ProvisioningCommand.SetPassword s -> {}
        case ProvisioningCommand.HandOver h -> {}
      }
      if (!id.isEmpty()) {
        nativeId = id;
      }
    }

    private void content(String called, String where, Map<String, String> mapped) {
      name = called;
      container = where;
      attributes = CanonicalJson.write(mapped);
    }

    Optional<AccountMapper.Seen> row(LaneResult lane) {
      return state == null && name == null && nativeId == null
          ? Optional.empty()
          : Optional.of(
              new AccountMapper.Seen(
                  lane.account(),
                  lane.results().getFirst().operation().application(),
                  state,
                  name,
                  container,
                  attributes,
                  nativeId));
    }
  }

  private static OperationMapper.Result row(Result result) {
    // What waits for an answer is sent by whoever hands it over, not by being looked for.
    var sent = result.outcome() instanceof Outcome.Pending ? null : SqlTime.write(result.sentAt());
    var mark = result.outcome() instanceof Outcome.Confirmed done ? done.mark() : "";
    return row(result.operation().id(), result.state(), sent).marked(mark);
  }

  /** How one operation stands, in the form the outbox takes it. */
  static OperationMapper.Result row(long id, OperationState state, @Nullable String sent) {
    return switch (state) {
      case OperationState.Waiting w ->
          row(id, w, w.attempts(), w.notBefore(), w.lastReason(), sent, false, 0);
      case OperationState.Confirmed c -> row(id, c, c.attempts(), c.at(), c.note(), sent, true, 0);
      case OperationState.Fault f -> row(id, f, f.attempts(), f.at(), f.reason(), sent, true, 0);
      case OperationState.Task t -> row(id, t, 0, t.at(), t.what(), sent, false, 0);
      case OperationState.ByHand b -> row(id, b, 0, b.at(), b.note(), sent, true, 0);
      case OperationState.GivenUp g -> row(id, g, 0, g.at(), g.reason(), sent, true, 0);
      case OperationState.Superseded s -> row(id, s, 0, s.at(), s.reason(), sent, true, s.by());
    };
  }

  private static OperationMapper.Result row(
      long id,
      OperationState state,
      int attempts,
      Instant at,
      String reason,
      @Nullable String sentAt,
      boolean settled,
      long by) {
    return new OperationMapper.Result(
        id,
        state.word(),
        attempts,
        SqlTime.write(at),
        cut(reason),
        sentAt,
        settled ? SqlTime.write(at) : null,
        "",
        by,
        "");
  }

  /** What applications say is theirs to say at any length, and ours to keep at this one. */
  static String cut(String reason) {
    return reason.length() > LONGEST_REASON
        ? reason.substring(0, LONGEST_REASON - 1) + "…"
        : reason;
  }

  private static void entry(Result result, List<LedgerEntry> entries) {
    var operation = result.operation();
    var what =
        switch (result.state()) {
          case OperationState.Confirmed c -> "operation-confirmed";
          case OperationState.Fault f -> "operation-fault";
          case OperationState.Task t -> "operation-task";
          case OperationState.Waiting w -> "";
          case OperationState.ByHand b -> "";
          case OperationState.GivenUp g -> "";
          case OperationState.Superseded s -> "operation-superseded";
        };
    if (what.isEmpty()) {
      return;
    }
    entries.add(
        new LedgerEntry(
            result.sentAt(),
            "connector:" + operation.application(),
            "operation:" + operation.id(),
            "person:" + operation.workerNumber(),
            what,
            Map.of(),
            Map.of(
                "kind", operation.kind(),
                "account", operation.accountName(),
                "command", command(result.command()),
                "cause", operation.cause(),
                "reason", reason(result.state()))));
  }

  /** What was sent, as the ledger tells it: a secret is not. */
  private static Map<String, Object> command(ProvisioningCommand command) {
    return command instanceof ProvisioningCommand.SetPassword
        ? Map.of()
        : CommandJson.plain(command);
  }

  private static String reason(OperationState state) {
    return switch (state) {
      case OperationState.Fault fault -> cut(fault.reason());
      case OperationState.Task task -> cut(task.what());
      case OperationState.Confirmed confirmed -> cut(confirmed.note());
      case OperationState.Superseded superseded -> cut(superseded.reason());
      case OperationState.Waiting w -> "";
      case OperationState.ByHand b -> "";
      case OperationState.GivenUp g -> "";
    };
  }
}
