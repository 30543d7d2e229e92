package glenmoor.engine.campaigns;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.RoundClock;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.Schedules;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Sees to what happens to rounds by themselves: they begin in their rhythm and when somebody moves,
 * reviewers are told and reminded, those who left or are away are stood in for, items end with what
 * they are about, what was revoked is taken and followed, and rounds end.
 */
@Named
public final class RoundsFollowed implements RecurringJob.Owner, FallsDue {
  private static final Logger LOG = LoggerFactory.getLogger(RoundsFollowed.class);
  private static final String OWNER = "campaign";
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final Duration OVERLAP = Duration.ofMinutes(5);
  private static final int AT_ONCE = 500;

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final CampaignService campaigns;
  private final ReviewersFound found;
  private final RevokedTaken revoked;
  private final Closing closing;
  private final BrakedClosing braked;
  private final CampaignLetters letters;
  private final Schedules schedules;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  /** Up to when items were compared with what is there. */
  private final AtomicReference<@Nullable Instant> compared = new AtomicReference<>();

  /** Of whom and what it was last looked at who stands in for reviewers. */
  private final AtomicReference<String> stood = new AtomicReference<>("");

  RoundsFollowed(
      RoundMapper rounds,
      ItemMapper items,
      CampaignService campaigns,
      ReviewersFound found,
      RevokedTaken revoked,
      Closing closing,
      BrakedClosing braked,
      CampaignLetters letters,
      Schedules schedules,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.campaigns = campaigns;
    this.found = found;
    this.revoked = revoked;
    this.closing = closing;
    this.braked = braked;
    this.letters = letters;
    this.schedules = schedules;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "campaigns",
            "begins, reminds, follows and ends rounds of campaigns",
            LOOK,
            this::carryOut));
  }

  private Map<String, Campaign> defined() {
    return Campaigns.of(catalogues.current().defined());
  }

  @Override
  public @Nullable Instant next() {
    var now = clock.instant();
    // What is due by now is done by now; what comes after it is not passed over for that.
    var clocks =
        open().stream()
            .flatMap(round -> Stream.of(clock(round).at(), round.dueAt()))
            .filter(at -> at.isAfter(now));
    return Stream.of(
            clocks,
            Stream.ofNullable(items.nextTake()).filter(at -> at.isAfter(now)),
            Stream.ofNullable(schedules.next(OWNER)))
        .flatMap(moments -> moments)
        .min(Instant::compareTo)
        .orElse(null);
  }

  private List<RoundRow> open() {
    return rounds.inState(List.of(RoundState.OPEN.word()));
  }

  @Override
  public boolean busy() {
    var now = clock.instant();
    return !rounds.inState(List.of(RoundState.LAUNCHING.word())).isEmpty()
        || open().stream()
            .anyMatch(round -> !clock(round).at().isAfter(now) && !braked.waits(round));
  }

  @Override
  public int carryOut() {
    begin();
    var done = movers();
    var open = rounds.inState(List.of(RoundState.OPEN.word(), RoundState.CLOSING.word()));
    if (open.isEmpty()) {
      compared.set(null);
      stood.set("");
      return done;
    }
    done += endedByThemselves(open);
    done += stoodIn();
    for (var round : open) {
      done += round.state().equals(RoundState.OPEN.word()) ? turn(round) : 0;
      done += tell(round);
    }
    done += revoked.take();
    done += revoked.confirm();
    return done + ends();
  }

  /** Begins what is due by its rhythm; one that goes on is not begun once more. */
  private void begin() {
    var wanted = new TreeMap<String, Schedule>();
    defined().forEach((key, campaign) -> campaign.rhythm().ifPresent(at -> wanted.put(key, at)));
    schedules.due(
        OWNER,
        wanted,
        key -> {
          var campaign = Objects.requireNonNull(defined().get(key));
          var day = clock.instant().atZone(catalogues.zone()).toLocalDate();
          try {
            campaigns.begin(campaign, "rhythm:" + day, null, Actor.SERVICE);
          } catch (Refused goesOn) {
            LOG.warn("A round is left out: {}", goesOn.getMessage());
          }
        });
  }

  /** Begins a round for each person who moved, where a campaign says so. */
  private int movers() {
    var begun = 0;
    for (var campaign : defined().values()) {
      if (campaign.onMove()) {
        begun += movers(campaign);
      }
    }
    return begun;
  }

  private int movers(Campaign campaign) {
    if (rounds.movesLookedAt(campaign.key()) == null) {
      // Who moved before it was defined is not its matter.
      transactions.run(() -> rounds.looksFrom(campaign.key()));
    }
    var moves = rounds.moves(campaign.key(), AT_ONCE);
    for (var move : moves) {
      try {
        transactions.run(() -> {
          rounds.lookedAt(campaign.key(), move.id());
          campaigns.begin(campaign, Fixing.MOVER + move.id(), move.personId(), Actor.SERVICE);
        });
      } catch (Refused goesOn) {
        // Whoever moves again while their round goes on is in it already.
        transactions.run(() -> rounds.lookedAt(campaign.key(), move.id()));
      }
    }
    return moves.size();
  }

  private RoundClock.Next clock(RoundRow round) {
    var told =
        new RoundClock(round.asOf(), round.dueAt(), round.nudged(), round.escalatedAt() != null);
    return Optional.ofNullable(defined().get(round.campaignKey()))
        .map(campaign -> told.next(campaign, catalogues.zone()))
        .orElse(new RoundClock.Next(RoundClock.Kind.CLOSE, round.dueAt()));
  }

  private int turn(RoundRow known) {
    return transactions.run(() -> {
      var round = rounds.lock(known.id());
      var now = clock.instant();
      if (round == null || !round.state().equals(RoundState.OPEN.word())) {
        return 0;
      }
      if (!rounds.anyOpen(round.id())) {
        rounds.move(round.id(), RoundState.OPEN.word(), RoundState.CLOSING.word());
        return 1;
      }
      var next = clock(round);
      if (next.at().isAfter(now)) {
        return 0;
      }
      switch (next.kind()) {
        case NUDGE -> {
          letters.remind(round, "nudge:" + round.nudged(), null);
          rounds.nudged(round.id(), round.nudged() + 1);
        }
        case ESCALATE -> {
          letters.escalate(round);
          rounds.escalated(round.id(), now);
        }
        case CLOSE -> {
          if (braked.waits(round)) {
            return 0;
          }
          braked.close(round, Actor.SERVICE);
        }
      }
      return 1;
    });
  }

  private int tell(RoundRow round) {
    return transactions.run(() -> letters.tellHolders(round, AT_ONCE));
  }

  /** Rounds in which accounts are judged that are nobody's. */
  private Stream<RoundRow> nobodys(List<RoundRow> open) {
    return open.stream()
        .filter(round -> {
          var campaign = defined().get(round.campaignKey());
          return campaign != null
              && (campaign.judged().contains(Campaign.Judged.STRAY_ACCOUNTS)
                  || campaign.judged().contains(Campaign.Judged.SERVICE_ACCOUNTS));
        });
  }

  /** Items whose holding is not there any more end, and say so. */
  private int endedByThemselves(List<RoundRow> open) {
    var now = clock.instant();
    var known = compared.get();
    var since =
        (known == null
                ? open.stream().map(RoundRow::asOf).min(Instant::compareTo).orElse(now)
                : known)
            .minus(OVERLAP);
    var ended =
        transactions.run(() ->
            items.endedRights(now, since)
                + items.endedPackages(now, since)
                + items.endedAccounts(now, since)
                + nobodys(open).mapToInt(round -> items.endedNobodys(round.id(), now)).sum());
    compared.set(now);
    return ended;
  }

  /**
   * Whoever left is stood in for by who is above them, whoever is away by their deputy. Looked at
   * where people or their away periods have changed since, or it is another day.
   */
  private int stoodIn() {
    var marker =
        rounds.standingMarker() + " " + clock.instant().atZone(catalogues.zone()).toLocalDate();
    if (marker.equals(stood.get())) {
      return 0;
    }
    var changed = 0;
    var after = 0L;
    while (true) {
      var page = rounds.actingNow(after, AT_ONCE);
      var acting =
          found.standsFor(
              page.stream().map(row -> Objects.requireNonNull(row.personId())).toList());
      for (var row : page) {
        changed += stoodIn(row, acting.get(row.personId()));
      }
      if (page.size() < AT_ONCE) {
        stood.set(marker);
        return changed;
      }
      after = page.getLast().id();
    }
  }

  private int stoodIn(ReviewerRow row, @Nullable Long acts) {
    if (Objects.equals(acts, row.actingId())) {
      return 0;
    }
    return transactions.run(() -> {
      var round = rounds.lock(row.roundId());
      if (round == null || !round.state().equals(RoundState.OPEN.word())) {
        return 0;
      }
      if (acts == null) {
        var to = found.row(round.id(), row.level(), ReviewersFound.leads(round.campaignKey()));
        rounds.reopen(to.id());
        items.passAll(row.id(), to.id());
      }
      rounds.act(row.id(), acts);
      closing.nothingOfOneself(round, Objects.requireNonNull(rounds.reviewerById(row.id())));
      letters.remind(round, "stands-in:" + row.id() + ":" + acts, rounds.reviewerById(row.id()));
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              Actor.SERVICE.login(),
              "review:" + row.id(),
              "campaign:" + round.campaignKey(),
              "reviewer-stood-in-for",
              Map.of("acting", String.valueOf(row.actingId())),
              Map.of("acting", String.valueOf(acts), "round", round.id())));
      return 1;
    });
  }

  private int ends() {
    var ended = 0;
    for (var round : rounds.inState(List.of(RoundState.CLOSING.word()))) {
      if (items.openOf(round.id()) == 0) {
        ended +=
            transactions.run(() -> {
              var locked = rounds.lock(round.id());
              if (locked == null
                  || !locked.state().equals(RoundState.CLOSING.word())
                  || items.openOf(round.id()) > 0) {
                return 0;
              }
              rounds.end(round.id(), RoundState.CLOSED.word(), "", clock.instant());
              ledger.append(
                  new LedgerEntry(
                      clock.instant(),
                      Actor.SERVICE.login(),
                      "round:" + round.id(),
                      "campaign:" + round.campaignKey(),
                      "campaign-closed",
                      Map.of(),
                      Map.of("round", round.id())));
              return 1;
            });
      }
    }
    return ended;
  }
}
