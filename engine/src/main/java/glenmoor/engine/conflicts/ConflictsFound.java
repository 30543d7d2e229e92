package glenmoor.engine.conflicts;

import glenmoor.core.authorization.Actor;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.conflicts.ConflictMapper;
import glenmoor.store.conflicts.ConflictMapper.Cell;
import glenmoor.store.conflicts.ConflictMapper.OverRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Looks for people who break conflict rules whenever anybody may hold something else, and ends
 * exemptions whose time is over: the conflict is open again then.
 */
@Named
public final class ConflictsFound implements RecurringJob.Owner, FallsDue {
  private static final Duration LOOK = Duration.ofSeconds(5);
  private static final int BATCH = 500;

  private final ConflictMapper conflicts;
  private final ConflictScan scan;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  ConflictsFound(
      ConflictMapper conflicts,
      ConflictScan scan,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.conflicts = conflicts;
    this.scan = scan;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "conflicts",
            "looks for people who break conflict rules, and ends exemptions",
            LOOK,
            this::carryOut));
  }

  @Override
  public @Nullable Instant next() {
    return conflicts.nextExemptionEnd(clock.instant());
  }

  @Override
  public boolean busy() {
    return false;
  }

  @Override
  public int carryOut() {
    return endExemptions() + (look() ? 1 : 0);
  }

  private int endExemptions() {
    return transactions.run(() -> {
      var now = clock.instant();
      var over = conflicts.exemptionsOver(now, BATCH);
      if (!over.isEmpty()) {
        conflicts.endExemptions(over.stream().map(OverRow::id).toList());
        over.forEach(each ->
            ledger.append(
                new LedgerEntry(
                    now,
                    Actor.SERVICE.login(),
                    "exemption:" + each.id(),
                    "conflict-rule:" + each.ruleKey(),
                    "exemption-ended",
                    Map.of(),
                    Map.of("until", each.untilAt().toString()))));
      }
      return over.size();
    });
  }

  /** Looks where anything has changed since the last look. */
  private boolean look() {
    var marker = marker();
    return transactions.run(() -> !marker.equals(conflicts.lockScan()) && found(marker));
  }

  private String marker() {
    var today = clock.instant().atZone(catalogues.zone()).toLocalDate();
    return transactions.run(() -> conflicts.marker()) + " " + today;
  }

  /** Looks in any case. */
  void lookNow() {
    var marker = marker();
    transactions.run(() -> {
      conflicts.lockScan();
      found(marker);
    });
  }

  /** How many would break a rule that is being written, by a fact; nothing is kept. */
  List<Cell> trial(ConflictRule rule, String fact) {
    return transactions.run(() -> {
      conflicts.lockScan();
      scan.find(List.of(rule));
      var cells = conflicts.found(fact);
      conflicts.clearFound();
      return cells;
    });
  }

  private boolean found(String marker) {
    var now = clock.instant();
    var today = now.atZone(catalogues.zone()).toLocalDate();
    scan.find(
        catalogues.current().defined().all(ConflictRuleKind.class).values().stream()
            .filter(rule -> rule.counts(today))
            .collect(Collectors.<ConflictRule>toList()));
    var begun = conflicts.begin(now);
    var ended = conflicts.endGone(now);
    conflicts.scanned(marker, now);
    if (begun + ended > 0) {
      ledger.append(
          new LedgerEntry(
              now,
              Actor.SERVICE.login(),
              "",
              "conflicts",
              "conflicts-found",
              Map.of(),
              Map.of("begun", begun, "ended", ended)));
    }
    return begun + ended > 0;
  }
}
