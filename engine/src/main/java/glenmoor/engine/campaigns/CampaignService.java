package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.ItemState;
import glenmoor.core.campaigns.RoundClock;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Rehearses, launches and leads rounds of campaigns. */
@Named
public final class CampaignService {
  private static final int LONGEST_DAYS = 366;

  /** A round that began to be launched, and the work that does it. */
  public record Begun(long round, long work) {}

  /**
   * What came of ending a round by hand.
   *
   * @param held the held change that its end waits in; empty where it has ended
   */
  public record ClosedEarly(String held) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final CampaignConcerns concerns;
  private final ReviewersFound found;
  private final Launching launching;
  private final Closing closing;
  private final BrakedClosing braked;
  private final CampaignLetters letters;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  CampaignService(
      RoundMapper rounds,
      ItemMapper items,
      PersonMapper people,
      CampaignConcerns concerns,
      ReviewersFound found,
      Launching launching,
      Closing closing,
      BrakedClosing braked,
      CampaignLetters letters,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.concerns = concerns;
    this.found = found;
    this.launching = launching;
    this.closing = closing;
    this.braked = braked;
    this.letters = letters;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  private Campaign campaign(String key, Actor actor) {
    Authorization.need(actor, Permission.LEAD_CAMPAIGNS, Scope.campaign(key));
    var campaign = Campaigns.of(catalogues.current().defined()).get(key);
    if (campaign == null) {
      throw Refused.notThere("There is no campaign “%s”.".formatted(key));
    }
    return campaign;
  }

  /**
   * Begins to count what a round would ask of whom; nothing of it is kept.
   *
   * @return the identity of the work; its result is {@link Rehearsed.CampaignRehearsal}
   */
  public long rehearse(String key, Actor actor) {
    var campaign = campaign(key, actor);
    return transactions.run(() -> {
      var round = row(campaign, "", null, Launching.REHEARSAL, actor, clock.instant());
      rounds.begin(round, null);
      return launching.begin(round, actor);
    });
  }

  /**
   * Begins a round.
   *
   * @throws Refused if one of the same campaign goes on
   */
  public Begun launch(String key, Actor actor) {
    var campaign = campaign(key, actor);
    return transactions.run(() -> begin(campaign, "", null, actor));
  }

  /** Begins a round on an occasion, inside the caller's transaction. */
  Begun begin(Campaign campaign, String occasion, @Nullable Long person, Actor actor) {
    var round =
        row(campaign, occasion, person, RoundState.LAUNCHING.word(), actor, clock.instant());
    var openKey = person == null ? campaign.key() : campaign.key() + "#" + person;
    if (rounds.begin(round, openKey) == 0) {
      var known = rounds.open(openKey);
      throw new Refused(
          Refused.Reason.NOT_NOW,
          known == null
              ? "“%s” was launched on this occasion already.".formatted(campaign.name())
              : "A round of “%s” goes on since %s: it has to end first."
                  .formatted(
                      campaign.name(), known.asOf().atZone(catalogues.zone()).toLocalDate()));
    }
    return new Begun(round.id(), launching.begin(round, actor));
  }

  private RoundRow row(
      Campaign campaign,
      String occasion,
      @Nullable Long person,
      String state,
      Actor actor,
      Instant now) {
    var id = ids.next();
    var before = person == null ? rounds.last(campaign.key()) : null;
    return new RoundRow(
        id,
        campaign.key(),
        campaign.name(),
        occasion.isEmpty() ? "hand:" + id : occasion,
        person,
        state,
        now,
        actor.login(),
        null,
        RoundClock.due(now, campaign, catalogues.zone()),
        campaign.closing().word(),
        campaign.answerDays(),
        campaign.selfReview(),
        campaign.second().map(who -> who.written()).orElse(""),
        0,
        null,
        0,
        false,
        0,
        0,
        before == null ? null : before.id(),
        null,
        "");
  }

  /** Gives a round up: nothing of it counts. What was signed off before stands. */
  public void drop(long id, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var round = concerns.led(id, actor);
      need(round, RoundState.OPEN);
      if (rounds.reviewers(id).stream().anyMatch(row -> row.signedOffAt() != null)) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "Somebody has signed off already, and what they revoked is gone: close it instead.");
      }
      rounds.end(id, RoundState.DROPPED.word(), said, clock.instant());
      note(round, actor, "campaign-dropped", Map.of("reason", said));
    });
  }

  private static void need(RoundRow round, RoundState state) {
    if (!round.state().equals(state.word())) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "The round is %s; that can be done while it is %s only."
              .formatted(round.state(), state.word()));
    }
  }

  /** Gives reviewers until the end of a day. */
  public void extend(long id, LocalDate until, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var round = concerns.led(id, actor);
      need(round, RoundState.OPEN);
      var due = until.plusDays(1).atStartOfDay(catalogues.zone()).toInstant();
      var today = clock.instant().atZone(catalogues.zone()).toLocalDate();
      if (!due.isAfter(round.dueAt()) || until.isAfter(today.plusDays(LONGEST_DAYS))) {
        throw Refused.badInput(
            "It is over on %s; it can be extended to a later day, at most %d days ahead."
                .formatted(round.dueAt().atZone(catalogues.zone()).toLocalDate(), LONGEST_DAYS));
      }
      rounds.extend(id, due);
      note(round, actor, "campaign-extended", Map.of("until", until.toString(), "reason", said));
    });
  }

  /** Reminds those who are not done. */
  public int remind(long id, Actor actor) {
    return transactions.run(() -> {
      var round = concerns.led(id, actor);
      need(round, RoundState.OPEN);
      var told = letters.remind(round, "by-hand:" + clock.instant(), null);
      note(round, actor, "campaign-reminded", Map.of("letters", told));
      return told;
    });
  }

  /** Ends the judging now, as its closing rule says. */
  public ClosedEarly close(long id, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    return transactions.run(() -> {
      var round = concerns.led(id, actor);
      need(round, RoundState.OPEN);
      note(round, actor, "campaign-closed-early", Map.of("reason", said));
      return new ClosedEarly(braked.close(round, actor).map(String::valueOf).orElse(""));
    });
  }

  /** Gives what a reviewer has not signed off to somebody else. */
  public int reassign(long review, String worker, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    return transactions.run(() -> {
      var seen = concerns.seen(review, actor);
      var round = concerns.led(seen.round().id(), actor);
      need(round, RoundState.OPEN);
      var named = people.byWorker(worker);
      var who = named == null ? null : found.ofWorker(worker).orElse(null);
      if (named == null || who == null || !Objects.equals(who.person(), named.id())) {
        throw Refused.badInput("There is nobody here with the worker number %s.".formatted(worker));
      }
      var to = found.row(round.id(), seen.reviewer().level(), who);
      if (to.id().equals(review)) {
        throw Refused.badInput("It is %s's already.".formatted(named.name()));
      }
      rounds.reopen(to.id());
      var moved = items.passAll(review, to.id());
      closing.nothingOfOneself(round, to);
      note(
          round,
          actor,
          "review-reassigned",
          Map.of("review", review, "to", worker, "items", moved, "reason", said));
      return moved;
    });
  }

  /** Says who by name sees to it that something goes which the application does not confirm. */
  public void hand(long item, String worker, String note, Actor actor) {
    var said = new StatedReason(note).text().strip();
    transactions.run(() -> {
      var row = concerns.item(item, actor);
      var round = concerns.led(row.roundId(), actor);
      var named = people.byWorker(worker);
      if (named == null || found.ofWorker(worker).isEmpty()) {
        throw Refused.badInput("There is nobody here with the worker number %s.".formatted(worker));
      }
      if (!row.state().equals(ItemState.REMOVING.word())) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "It is not waiting to be confirmed, so nobody has to see to it.");
      }
      if (named.id().equals(row.personId())) {
        throw Refused.badInput("%s holds it.".formatted(named.name()));
      }
      items.hand(item, named.workerNumber(), said, clock.instant());
      items.remark(List.of(item), actor.login(), "hand", said, clock.instant());
      note(
          round,
          actor,
          "revocation-handed",
          Map.of("item", item, "to", named.workerNumber(), "note", said));
    });
  }

  private void note(RoundRow round, Actor actor, String what, Map<String, Object> after) {
    var said = new LinkedHashMap<>(after);
    said.put("round", round.id());
    ledger.append(
        new LedgerEntry(
            clock.instant(),
            actor.login(),
            "round:" + round.id(),
            "campaign:" + round.campaignKey(),
            what,
            Map.of(),
            said));
  }
}
