package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.io.InputStream;
import java.time.Duration;
import java.util.List;
import java.util.Map;

/**
 * Ends rounds under a brake: what nobody has decided, and the closing rule would take from many
 * people at once, waits whole until somebody releases it.
 */
@Named
final class BrakedClosing implements HeldChanges.Releasing {
  private static final String KIND = "campaign";
  private static final Duration ONE_WEEK = Duration.ofDays(7);

  /** From how many people how many undecided items would be taken. */
  public record ClosingForecast(String campaign, String name, long round, int items, int people) {}

  /** A round that was ended. */
  public record RoundClosed(long round, int people) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final Closing closing;
  private final HeldChanges held;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  BrakedClosing(
      RoundMapper rounds,
      ItemMapper items,
      PersonMapper people,
      Closing closing,
      HeldChanges held,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.closing = closing;
    this.held = held;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
    held.carriedOutBy(KIND, this);
  }

  private static String what(RoundRow round) {
    return "the end of “%s”, round %d".formatted(round.name(), round.id());
  }

  private static boolean revokes(RoundRow round) {
    return round.closing().equals(Campaign.Closing.REVOKE.word()) || round.withOwners();
  }

  private Measured measured(RoundRow round) {
    return new Measured(
        Map.of(Measure.LOSING, items.undecidedPeople(round.id())), people.countAll());
  }

  private List<String> over(RoundRow round, Map<Measure, Integer> allowed) {
    return revokes(round)
        ? BrakeKind.on("campaigns", catalogues.current().defined()).hold(measured(round), allowed)
        : List.of();
  }

  /** Whether the end of a round waits for a release. */
  boolean waits(RoundRow round) {
    return held.waiting(KIND, what(round)).isPresent();
  }

  /**
   * Ends a round, or has it wait; inside the caller's transaction.
   *
   * @return whether anything was done
   */
  boolean close(RoundRow round) {
    if (waits(round)) {
      return false;
    }
    var over = over(round, Map.of());
    if (over.isEmpty()) {
      closing.close(round, clock.instant());
      return true;
    }
    var measured = measured(round);
    held.hold(
        new HeldChanges.Holding(
            KIND,
            what(round),
            String.join("; ", over),
            measured,
            new ClosingForecast(
                round.campaignKey(),
                round.name(),
                round.id(),
                items.undecidedOf(round.id()),
                measured.count(Measure.LOSING)),
            Map.of("round", round.id(), "campaign", round.campaignKey())),
        InputStream.nullInputStream(),
        Actor.SERVICE);
    return true;
  }

  private static long round(Map<String, Object> details) {
    return Long.parseLong(String.valueOf(details.get("round")));
  }

  private RoundRow open(Map<String, Object> details) {
    var round = rounds.lock(round(details));
    if (round == null || !round.state().equals(RoundState.OPEN.word())) {
      throw new Refused(Refused.Reason.NOT_NOW, "The round is over by now: drop this change.");
    }
    return round;
  }

  @Override
  public Permission needs() {
    return Permission.LEAD_CAMPAIGNS;
  }

  @Override
  public void check(Map<String, Object> details) {
    transactions.run(() -> open(details));
  }

  @Override
  public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    return transactions.run(() -> {
      var round = open(released.details());
      Authorization.need(actor, Permission.LEAD_CAMPAIGNS, Scope.campaign(round.campaignKey()));
      var over = over(round, released.allowed());
      if (!over.isEmpty()) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "It comes to more than when it was held: %s.".formatted(String.join("; ", over)));
      }
      var losing = measured(round).count(Measure.LOSING);
      closing.close(round, clock.instant());
      var closed = new RoundClosed(round.id(), losing);
      progress.keep(closed);
      return closed;
    });
  }

  /** Reviewers have another week then. */
  @Override
  public void dropped(Map<String, Object> details, String note, Actor actor) {
    var round = rounds.lock(round(details));
    if (round != null && round.state().equals(RoundState.OPEN.word())) {
      rounds.extend(round.id(), clock.instant().plus(ONE_WEEK));
    }
  }

  @Override
  public Class<?> forecast() {
    return ClosingForecast.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(RoundClosed.class);
  }
}
