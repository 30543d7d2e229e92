package glenmoor.engine.playbooks;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.playbooks.RunState;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.time.Clock;
import glenmoor.store.playbooks.AskMapper;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import jakarta.inject.Named;
import java.util.Map;

/** Ends runs before all of their steps are done: what they asked and did not send yet goes too. */
@Named
final class RunEnds {
  private final PlaybookRunMapper runs;
  private final AskMapper asks;
  private final Outbox outbox;
  private final Ledger ledger;
  private final Clock clock;

  RunEnds(PlaybookRunMapper runs, AskMapper asks, Outbox outbox, Ledger ledger, Clock clock) {
    this.runs = runs;
    this.asks = asks;
    this.outbox = outbox;
    this.ledger = ledger;
    this.clock = clock;
  }

  /** Ends one, inside the caller's transaction. */
  void end(RunRow run, String reason, String by) {
    var now = clock.instant();
    runs.update(RunRows.with(run, new RunState.Ended(run.step(), now, reason), run.day(), null));
    asks.drop(run.id(), now);
    outbox.drop("run:" + run.id() + ":", "The run it belonged to is over.");
    ledger.append(
        new LedgerEntry(
            now,
            by,
            "run:" + run.id(),
            "run:" + run.id(),
            "playbook-ended",
            Map.of("step", String.valueOf(run.step())),
            Map.of("playbook", run.playbook(), "reason", reason)));
  }
}
