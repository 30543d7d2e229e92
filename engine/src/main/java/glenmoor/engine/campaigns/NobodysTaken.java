package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.reconcile.DriftService;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;

/**
 * Removes accounts that are nobody's in their applications once they were revoked: stray ones, and
 * service accounts. One that cannot be removed says why, and is tried again.
 */
@Named
public final class NobodysTaken implements RecurringJob.Owner {
  private static final Duration LOOK = Duration.ofSeconds(10);
  private static final int AT_ONCE = 100;

  private final ItemMapper items;
  private final DriftService drifts;
  private final Transactions transactions;
  private final Clock clock;

  NobodysTaken(ItemMapper items, DriftService drifts, Transactions transactions, Clock clock) {
    this.items = items;
    this.drifts = drifts;
    this.transactions = transactions;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "campaigns-nobodys",
            "removes accounts that are nobody's and were revoked in a campaign",
            LOOK,
            this::take));
  }

  /** Takes what waits. */
  void take() {
    items.nobodys(AT_ONCE).forEach(this::take);
  }

  private void take(ItemRow item) {
    var id = Long.parseLong(item.targetKey());
    var reason = "revoked in a campaign by %s".formatted(item.decidedBy());
    try {
      if (item.kind().equals("stray")) {
        drifts.remove(id, reason, Actor.SERVICE);
      } else {
        drifts.removeServiceAccount(id, reason, Actor.SERVICE);
      }
    } catch (Refused refused) {
      var why = String.valueOf(refused.getMessage());
      if (!item.note().equals(why)) {
        transactions.run(() -> {
          items.note(item.id(), why);
          items.remark(List.of(item.id()), Actor.SERVICE.login(), "comment", why, clock.instant());
        });
      }
    }
  }
}
