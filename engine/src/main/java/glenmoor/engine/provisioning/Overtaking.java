package glenmoor.engine.provisioning;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.RetryPolicy;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tools.jackson.databind.json.JsonMapper;

/**
 * Ends what new orders overtake: a fault or a waiting operation of the same account about the same
 * side of it. What a worker has in hand at this moment is left to it: the new order comes after it
 * in the lane, and has the last word.
 */
final class Overtaking {
  private static final JsonMapper JSON = JsonMapper.shared();

  /**
   * A new order.
   *
   * @param takesAll whether nobody needs the account any more, so that nothing older counts
   */
  record New(long operation, long account, ProvisioningCommand command, boolean takesAll) {}

  /**
   * What was overtaken.
   *
   * @param lanes the accounts whose lanes have to be looked at anew
   */
  record Overtaken(Set<Long> lanes, List<LedgerEntry> entries) {
    static final Overtaken NOTHING = new Overtaken(Set.of(), List.of());
  }

  private final OperationMapper operations;

  Overtaking(OperationMapper operations) {
    this.operations = operations;
  }

  /** Ends what these new commands overtake, inside the transaction that keeps them. */
  Overtaken by(List<New> commands, Instant now) {
    if (commands.isEmpty()) {
      return Overtaken.NOTHING;
    }
    var ordersOf = new HashMap<Long, List<New>>();
    commands.forEach(
        each -> ordersOf.computeIfAbsent(each.account(), id -> new ArrayList<>()).add(each));
    var inHand = new HashSet<Long>();
    var lanes = new HashSet<Long>();
    for (var lane : operations.leased(ordersOf.keySet())) {
      if (lane.inHand()) {
        inHand.add(lane.accountId());
      }
      if (lane.blockedBy() != null) {
        lanes.add(lane.accountId());
      }
    }
    var results = new ArrayList<OperationMapper.Result>();
    var entries = new ArrayList<LedgerEntry>();
    for (var open : operations.open(ordersOf.keySet())) {
      if (open.state().equals("waiting") && inHand.contains(open.accountId())) {
        continue;
      }
      overtaker(open, ordersOf.getOrDefault(open.accountId(), List.of()), lanes)
          .ifPresent(by -> {
            var state =
                OperationStates.of(open)
                    .after(new Transition.Overtaken(now, by.operation()), RetryPolicy.USUAL);
            results.add(ResultBatch.row(open.id(), state, null));
            lanes.add(open.accountId());
            entries.add(entry(open, state, by, now));
          });
    }
    if (!results.isEmpty()) {
      operations.record(JSON.writeValueAsString(results));
    }
    return new Overtaken(lanes, entries);
  }

  private static Optional<New> overtaker(OperationRow open, List<New> commands, Set<Long> unmade) {
    var aspect = CommandJson.read(open.kind(), open.payload()).aspect();
    return commands.stream()
        .filter(each ->
            each.takesAll()
                || unmade.contains(open.accountId())
                || each.command().aspect().equals(ProvisioningCommand.WHOLE)
                || each.command().aspect().equals(aspect))
        .findFirst();
  }

  private static LedgerEntry entry(OperationRow open, OperationState state, New by, Instant now) {
    return new LedgerEntry(
        now,
        "glenmoor",
        "operation:" + by.operation(),
        "operation:" + open.id(),
        "operation-superseded",
        Map.of("state", open.state(), "kind", open.kind()),
        Map.of("state", state.word(), "by", by.operation()));
  }
}
