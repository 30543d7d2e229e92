package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.ItemState;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.campaigns.Suggestion;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Judges items: decides, takes back, passes on, and signs off. */
@Named
public final class ReviewService {
  private static final int MOST_AT_ONCE = 2_000;
  private static final int PRIVILEGED = 2;

  /**
   * What became of several items.
   *
   * @param decided identities
   * @param left what was not decided, by the sentence that says why: how many
   */
  public record Judged(List<Long> decided, Map<String, Integer> left) {}

  /** A decision over items. */
  public record Decision(Judgement judgement, String reason) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final CampaignConcerns concerns;
  private final ReviewersFound found;
  private final BrakedSignOff signingOff;
  private final RevokedTaken revoked;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  ReviewService(
      RoundMapper rounds,
      ItemMapper items,
      PersonMapper people,
      CampaignConcerns concerns,
      ReviewersFound found,
      BrakedSignOff signingOff,
      RevokedTaken revoked,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.concerns = concerns;
    this.found = found;
    this.signingOff = signingOff;
    this.revoked = revoked;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * Decides on chosen items. Of several at once, those that have to be looked at one by one are
   * left until they were opened.
   *
   * @param revision what the item was like when it was looked at, where it is one; null for any
   */
  public Judged decide(
      long review,
      Collection<Long> chosen,
      Decision decision,
      @Nullable Integer revision,
      Actor actor) {
    return transactions.run(() -> {
      var open = concerns.judged(review, actor);
      if (chosen.isEmpty() || chosen.size() > MOST_AT_ONCE) {
        throw Refused.badInput(
            "From 1 to %,d at once; these are %,d.".formatted(MOST_AT_ONCE, chosen.size()));
      }
      return judged(open, chosen.stream().distinct().toList(), decision, revision, actor);
    });
  }

  /** Decides on what a search finds, at most 2,000 at once; the rest is left for the next time. */
  public Judged decideFound(long review, ItemSearch search, Decision decision, Actor actor) {
    return transactions.run(() -> {
      var open = concerns.judged(review, actor);
      var chosen = items.ids(search.firstOf(open.round().id(), review, MOST_AT_ONCE + 1));
      if (chosen.isEmpty()) {
        throw new Refused(Refused.Reason.NOT_NOW, "Nothing is found that could be decided.");
      }
      var judged =
          judged(
              open,
              chosen.subList(0, Math.min(chosen.size(), MOST_AT_ONCE)),
              decision,
              null,
              actor);
      if (chosen.size() <= MOST_AT_ONCE) {
        return judged;
      }
      var left = new LinkedHashMap<>(judged.left());
      left.put("There are more than %,d; decide once more.".formatted(MOST_AT_ONCE), 1);
      return new Judged(judged.decided(), left);
    });
  }

  private Judged judged(
      Review review,
      List<Long> chosen,
      Decision decision,
      @Nullable Integer revision,
      Actor actor) {
    if (decision.reason().length() > StatedReason.LONGEST) {
      throw Refused.badInput(
          "A reason has at most %,d characters.".formatted(StatedReason.LONGEST));
    }
    var rows = mine(review, chosen);
    var own = Objects.requireNonNull(concerns.own(actor));
    var good = new ArrayList<Long>();
    var left = new LinkedHashMap<String, Integer>();
    for (var row : rows) {
      var why = refusal(review, row, decision, revision, rows.size() > 1, own, actor);
      if (why == null) {
        good.add(row.id());
      } else if (chosen.size() == 1) {
        throw new Refused(
            row.personId() != null && row.personId().equals(own) && !review.round().selfReview()
                ? Refused.Reason.NOT_ALLOWED
                : Refused.Reason.NOT_NOW,
            why);
      } else {
        left.merge(why, 1, Integer::sum);
      }
    }
    if (!good.isEmpty()) {
      var now = clock.instant();
      var word = decision.judgement().word();
      items.decide(good, word, actor.login(), decision.reason().strip(), now);
      items.remark(good, actor.login(), word, decision.reason().strip(), now);
      note(review, actor, "items-judged", Map.of("judgement", word, "items", good.size()), now);
    }
    return new Judged(good, left);
  }

  /** Items of a review; whoever names others learns nothing of them. */
  private List<ItemRow> mine(Review review, Collection<Long> chosen) {
    var rows = items.lock(chosen);
    var foreign =
        chosen.stream()
            .filter(id ->
                rows.stream()
                    .noneMatch(row ->
                        row.id().equals(id) && row.reviewerId().equals(review.reviewer().id())))
            .findFirst();
    if (foreign.isPresent()) {
      throw CampaignConcerns.noItem(foreign.get());
    }
    return rows;
  }

  private static @Nullable String refusal(
      Review review,
      ItemRow row,
      Decision decision,
      @Nullable Integer revision,
      boolean several,
      long own,
      Actor actor) {
    if (row.personId() != null && row.personId() == own && !review.round().selfReview()) {
      return "Nobody judges what they hold themselves: pass it on.";
    }
    if (!ItemState.ofWord(row.state()).open()) {
      return "It ended by itself meanwhile, or was decided for good.";
    }
    if (revision != null && !revision.equals(row.revision())) {
      return "%s decided on it meanwhile: %s. Look at it again."
          .formatted(
              row.decidedBy().isEmpty() ? "Somebody" : row.decidedBy(),
              row.judgement().isEmpty() ? "it is open again" : row.judgement());
    }
    if (row.level() > 1 && row.firstBy().equals(actor.login())) {
      return "Whoever decided first does not look a second time.";
    }
    if (decision.judgement() != Judgement.KEEP) {
      return null;
    }
    if (several && careful(row) && !row.opened()) {
      return "It is privileged, idle or in conflict: open it before it is kept.";
    }
    return row.suggestion() == Suggestion.What.REVOKE.ordinal() && decision.reason().isBlank()
        ? "It is suggested to go: say why it is kept."
        : null;
  }

  static boolean careful(ItemRow row) {
    return row.risk() >= PRIVILEGED || row.idle() || row.conflict();
  }

  /** Takes decisions back. */
  public int undo(long review, Collection<Long> chosen, Actor actor) {
    return transactions.run(() -> {
      var open = concerns.judged(review, actor);
      var decided =
          mine(open, chosen).stream()
              .filter(row -> row.state().equals(ItemState.DECIDED.word()))
              .map(ItemRow::id)
              .toList();
      if (!decided.isEmpty()) {
        var now = clock.instant();
        items.undo(decided);
        items.remark(decided, actor.login(), "undo", "", now);
        note(open, actor, "judgement-taken-back", Map.of("items", decided.size()), now);
      }
      return decided.size();
    });
  }

  /** Hands items to somebody else, who has to judge them. */
  public int passOn(
      long review, Collection<Long> chosen, String worker, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    return transactions.run(() -> {
      var open = concerns.judged(review, actor);
      var rows = mine(open, chosen);
      var named = people.byWorker(worker);
      var who = named == null ? null : found.ofWorker(worker).orElse(null);
      if (named == null || who == null || !Objects.equals(who.person(), named.id())) {
        throw Refused.badInput("There is nobody here with the worker number %s.".formatted(worker));
      }
      if (named.id().equals(open.reviewer().personId())) {
        throw Refused.badInput("It is %s's already.".formatted(named.name()));
      }
      if (rows.stream().anyMatch(row -> named.id().equals(row.personId()))) {
        throw Refused.badInput(
            "%s holds some of it, and nobody judges what they hold themselves."
                .formatted(named.name()));
      }
      var ids =
          rows.stream()
              .filter(row -> ItemState.ofWord(row.state()).open())
              .map(ItemRow::id)
              .toList();
      if (ids.isEmpty()) {
        throw new Refused(Refused.Reason.NOT_NOW, "Nothing of it is open any more.");
      }
      var now = clock.instant();
      var to = found.row(open.round().id(), open.reviewer().level(), who);
      rounds.reopen(to.id());
      items.passOn(ids, to.id());
      items.remark(ids, actor.login(), "pass-on", said, now);
      note(
          open,
          actor,
          "items-passed-on",
          Map.of("items", ids.size(), "to", named.workerNumber(), "reason", said),
          now);
      return ids.size();
    });
  }

  /** Notes that somebody has looked at one item by itself. */
  public void open(long item, Actor actor) {
    transactions.run(() -> {
      var row = concerns.item(item, actor);
      var reviewer = Objects.requireNonNull(rounds.reviewerById(row.reviewerId()));
      if (concerns.judges(reviewer, actor)) {
        items.open(item);
      }
    });
  }

  /** Says something to an item. */
  public void comment(long item, String text, Actor actor) {
    var said = new StatedReason(text).text().strip();
    transactions.run(() -> {
      concerns.item(item, actor);
      items.remark(List.of(item), actor.login(), "comment", said, clock.instant());
    });
  }

  /**
   * Says that one is done: what is kept is kept, what is revoked goes.
   *
   * @throws Refused while something is undecided
   */
  public SigningOff.SignedOff signOff(long review, Actor actor) {
    return transactions.run(() -> {
      var open = concerns.judged(review, actor);
      var undecided = items.undecided(review);
      if (undecided > 0) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "%,d %s undecided: decide, or pass on what you cannot decide."
                .formatted(undecided, undecided == 1 ? "item is" : "items are"));
      }
      return signingOff.signOff(open, actor);
    });
  }

  /** A holder says that they need what is to go. */
  public void answer(long item, String text, Actor actor) {
    var said = new StatedReason(text).text().strip();
    transactions.run(() -> {
      var row = concerns.item(item, actor);
      var round = Objects.requireNonNull(rounds.lock(row.roundId()));
      if (!concerns.answers(row, round, actor)) {
        throw new Refused(
            Refused.Reason.NOT_NOW, "It is not announced any more, or it is not yours to answer.");
      }
      var now = clock.instant();
      items.answer(item, said);
      items.remark(List.of(item), actor.login(), "answer", said, now);
      // It waits for its reviewer, who decides on it once more.
      revoked.withdrawn(row, round, "answered by its holder", actor.login(), now);
    });
  }

  /** Settles what a holder has answered: it stays after all, or goes now. */
  public void settleAnswer(long item, Decision decision, Actor actor) {
    var said = new StatedReason(decision.reason()).text().strip();
    transactions.run(() -> {
      var row = concerns.item(item, actor);
      var reviewer = Objects.requireNonNull(rounds.reviewerById(row.reviewerId()));
      var round = Objects.requireNonNull(rounds.lock(row.roundId()));
      if (!concerns.judges(reviewer, actor)
          && !CampaignConcerns.leads(round.campaignKey(), actor)) {
        throw new Refused(
            Refused.Reason.NOT_ALLOWED, "Its reviewer settles it, or who leads the campaign.");
      }
      if (row.personId() != null && row.personId().equals(concerns.own(actor))) {
        throw new Refused(Refused.Reason.NOT_ALLOWED, "Nobody settles their own answer.");
      }
      if (!row.state().equals(ItemState.ANNOUNCED.word()) || row.answer().isEmpty()) {
        throw new Refused(Refused.Reason.NOT_NOW, "There is no answer to settle any more.");
      }
      var now = clock.instant();
      var keeps = decision.judgement() == Judgement.KEEP;
      items.answered(
          item, (keeps ? ItemState.KEPT : ItemState.ANNOUNCED).word(), actor.login(), said, now);
      items.remark(List.of(item), actor.login(), decision.judgement().word(), said, now);
      note(
          new Review(round, reviewer),
          actor,
          "answer-settled",
          Map.of("item", item, "judgement", decision.judgement().word(), "reason", said),
          now);
    });
  }

  private void note(
      Review review, Actor actor, String what, Map<String, Object> after, Instant now) {
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "review:" + review.reviewer().id(),
            "campaign:" + review.round().campaignKey(),
            what,
            Map.of(),
            with(after, "round", review.round().id())));
  }

  private static Map<String, Object> with(Map<String, Object> more, String key, Object value) {
    var all = new LinkedHashMap<>(more);
    all.put(key, value);
    return all;
  }
}
