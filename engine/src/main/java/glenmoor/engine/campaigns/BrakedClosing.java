package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.io.InputStream;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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
  private final CampaignBrake brake;
  private final Closing closing;
  private final HeldChanges held;
  private final Transactions transactions;
  private final Clock clock;

  BrakedClosing(
      RoundMapper rounds,
      ItemMapper items,
      CampaignBrake brake,
      Closing closing,
      HeldChanges held,
      Transactions transactions,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.brake = brake;
    this.closing = closing;
    this.held = held;
    this.transactions = transactions;
    this.clock = clock;
    held.carriedOutBy(KIND, this);
  }

  private static String what(RoundRow round) {
    return "the end of “%s”, round %d".formatted(round.name(), round.id());
  }

  /** From how many people something would be taken that nobody has signed off. */
  private int losing(RoundRow round) {
    if (closing.goesToOwners(round)) {
      return 0;
    }
    return round.closing().equals(Campaign.Closing.KEEP.word())
        ? items.revokedUnsigned(round.id())
        : items.undecidedPeople(round.id());
  }

  /** Whether the end of a round waits for a release. */
  boolean waits(RoundRow round) {
    return held.waiting(KIND, what(round)).isPresent();
  }

  /**
   * Ends a round, or has it wait; inside the caller's transaction.
   *
   * @return the held change that it waits in; nothing where it has ended
   * @throws Refused if it waits already
   */
  Optional<Long> close(RoundRow round, Actor actor) {
    if (waits(round)) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Its end waits for somebody to release it, since it takes something from many.");
    }
    var losing = losing(round);
    var measured = brake.measured(losing);
    var over = brake.over(measured);
    if (over.isEmpty()) {
      closing.close(round, clock.instant());
      return Optional.empty();
    }
    return Optional.of(
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
                    losing),
                Map.of("round", round.id(), "campaign", round.campaignKey())),
            InputStream.nullInputStream(),
            actor));
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
      var losing = losing(round);
      Authorization.need(actor, Permission.LEAD_CAMPAIGNS, Scope.campaign(round.campaignKey()));
      brake.noMore(losing, released.allowed());
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
