package glenmoor.engine.campaigns;

import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.campaigns.Reviewers;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.campaigns.RoundMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * What a sign-off does, whoever or whatever brings it about. The decisions are hashed (SHA-256 over
 * the SHA-256 digests of one line of canonical JSON an item, RFC 8785) and the digest goes into the
 * ledger, so that a million decisions are provable by a few entries. Inside the caller's
 * transaction.
 */
@Named
public final class SigningOff {
  private static final int AT_ONCE = 5_000;

  /**
   * What it came to.
   *
   * @param second whether somebody looks at it a second time first
   * @param held the held change that it waits in; empty where it waits for nobody
   */
  public record SignedOff(int kept, int revoked, boolean second, String digest, String held) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final ReviewersFound found;
  private final RevokedTaken revoked;
  private final Catalogues catalogues;
  private final Ledger ledger;

  SigningOff(
      RoundMapper rounds,
      ItemMapper items,
      ReviewersFound found,
      RevokedTaken revoked,
      Catalogues catalogues,
      Ledger ledger) {
    this.rounds = rounds;
    this.revoked = revoked;
    this.catalogues = catalogues;
    this.items = items;
    this.found = found;
    this.ledger = ledger;
  }

  /** Signs off a review of which everything is decided. */
  SignedOff signOff(Review review, String by, Instant now) {
    return signOff(review, by, looksASecondTime(review, now), now);
  }

  /** The same when the round is over, so that nobody is asked a second time any more. */
  SignedOff atTheEnd(Review review, String by, Instant now) {
    return signOff(review, by, false, now);
  }

  private SignedOff signOff(Review review, String by, boolean second, Instant now) {
    var id = review.reviewer().id();
    var round = review.round();
    var summed = summed(review, "decided");
    if (second) {
      toSecond(review);
    } else {
      items.settle(id, CalendarDays.after(now, round.answerDays(), catalogues.zone()), now);
      revoked.announced(id, round, now);
    }
    rounds.signOff(id, by, HexFormat.of().parseHex(summed.digest()), now);
    ledger.append(
        new LedgerEntry(
            now,
            by,
            "review:" + id,
            "campaign:" + round.campaignKey(),
            "review-signed-off",
            Map.of(),
            Map.of(
                "round", round.id(),
                "kept", summed.kept(),
                "revoked", summed.revoked(),
                "digest", summed.digest())));
    if (!rounds.anyOpen(round.id())) {
      rounds.move(round.id(), RoundState.OPEN.word(), RoundState.CLOSING.word());
    }
    return new SignedOff(summed.kept(), summed.revoked(), second, summed.digest(), "");
  }

  /** Whether somebody else looks at it before it counts. */
  boolean looksASecondTime(Review review, Instant now) {
    var round = review.round();
    return review.reviewer().level() == 1
        && !round.second().isEmpty()
        && round.dueAt().isAfter(now);
  }

  private void toSecond(Review review) {
    var round = review.round();
    var leads = ReviewersFound.leads(round.campaignKey());
    var who =
        Reviewers.of(round.second())
            .flatMap(named -> found.named(named, round.campaignKey()))
            .orElse(leads);
    var to = found.row(round.id(), 2, who);
    rounds.reopen(to.id());
    items.toSecond(review.reviewer().id(), to.id());
    var judges = found.judges(to);
    if (judges.size() == 1) {
      // What they would judge of themselves, those who lead it judge.
      var otherwise = found.row(round.id(), 2, leads);
      if (!otherwise.id().equals(to.id())) {
        items.passSelf(to.id(), judges.iterator().next(), otherwise.id());
      }
    }
  }

  /** What is decided in a review that is not signed off. */
  Summed decided(Review review) {
    return summed(review, "decided");
  }

  /** What was decided in a review. */
  record Summed(int kept, int revoked, String digest) {}

  /**
   * The digest of what stands of a review that was signed off, to be compared with the signed one.
   */
  String digest(Review review) {
    return summed(review, "settled").digest();
  }

  private Summed summed(Review review, String state) {
    var digest = DigestUtils.getSha256Digest();
    var kept = 0;
    var revoked = 0;
    var after = 0L;
    while (true) {
      var page =
          items.search(
              ItemSearch.of(
                  review.reviewer().id(), review.round().id(), state, null, after, AT_ONCE));
      for (var item : page) {
        digest.update(digestOf(item));
        if (item.judgement().equals(Judgement.KEEP.word())) {
          kept++;
        } else {
          revoked++;
        }
      }
      if (page.size() < AT_ONCE) {
        return new Summed(kept, revoked, HexFormat.of().formatHex(digest.digest()));
      }
      after = page.getLast().id();
    }
  }

  /**
   * Of what was decided of one item; as it was signed for where that does not stand there any more.
   */
  static byte[] digestOf(ItemRow item) {
    return item.signedLine() == null
        ? DigestUtils.sha256(line(item))
        : HexFormat.of().parseHex(item.signedLine());
  }

  private static String line(ItemRow item) {
    var said = new TreeMap<String, Object>();
    said.put("item", item.id());
    said.put("worker", Objects.requireNonNullElse(item.worker(), ""));
    said.put("kind", item.kind());
    said.put("target", item.targetKey());
    said.put("account", item.account());
    said.put("judgement", item.judgement());
    said.put("by", item.decidedBy());
    said.put("at", String.valueOf(item.decidedAt()));
    said.put("reason", item.reason());
    return CanonicalJson.write(said) + "\n";
  }
}
