package glenmoor.core.campaigns;

import static glenmoor.core.SkerryLine.map;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.campaigns.Campaign.Judged;
import glenmoor.core.definitions.Problem;
import glenmoor.core.requests.Campaigns;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How campaigns are written, what of a scope each case is in, and what falls due when. */
class CampaignKindTest {
  private static Catalogue.Result read(Object... keysAndValues) {
    var documents = new ArrayList<>(SkerryLine.documents());
    documents.add(map(keysAndValues));
    return SkerryLine.read(documents);
  }

  private static Campaign campaign(Object... keysAndValues) {
    var result = read(keysAndValues);
    assertThat(result.problems()).isEmpty();
    return result.catalogue().orElseThrow().defined().all(CampaignKind.class).get("one");
  }

  @Test
  void what_is_left_out_is_as_most_would_have_it() {
    var campaign = campaign("campaign", "one", "reviewers", "line-managers");
    assertThat(campaign.judged()).containsExactly(Judged.ENTITLEMENTS);
    assertThat(campaign.days()).isEqualTo(14);
    assertThat(campaign.nudges()).containsExactly(7);
    assertThat(campaign.closing()).isEqualTo(Campaign.Closing.REVOKE);
    assertThat(campaign.selfReview()).isFalse();
    assertThat(campaign("campaign", "one", "reviewers", "holders").selfReview()).isTrue();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "reviewers | everybody | say one of",
        "reviewers | team nowhere | There is no team",
        "reviewers | stewards | Stewards judge packages",
        "days | 200 days | say from 1 to 180",
        "nudge | 14 days | the round is over after 14",
        "escalate | 20 days | the round is over after 14",
        "rhythm | sometimes | say weekly",
        "second | line-managers | is named",
        "otherwise | holders | is named",
        "closing | forget | forget",
        "people | person.nothing == 1 | there is no fact nothing",
        "holdings | holding.colour == 1 | cannot be used",
        "peers | shoe | There is no fact",
        "answer | 90 days | say from 0 to 30",
        "waits-letter | none | There is no letter"
      })
  void what_is_wrong_is_said_at_its_place(String key, String value, String says) {
    var problems =
        key.equals("reviewers")
            ? read("campaign", "one", "reviewers", value).problems()
            : read("campaign", "one", "reviewers", "line-managers", key, value).problems();
    assertThat(problems).extracting(Problem::sentence).anyMatch(each -> each.contains(says));
  }

  private static Catalogue.Result offering(Object review) {
    var documents = new ArrayList<>(SkerryLine.documents());
    documents.add(map("route", "manager", "stages", List.of(map("ask", "line-manager"))));
    documents.add(map("offer", "one", "package", "deck", "route", "manager", "review", review));
    return SkerryLine.read(documents);
  }

  @Test
  void an_offer_is_reviewed_by_a_campaign_of_its_own() {
    var offers = offering("quarterly").catalogue().orElseThrow();
    var campaign = Objects.requireNonNull(Campaigns.of(offers.defined()).get("offer.one"));
    assertThat(campaign.judged()).containsExactly(Judged.PACKAGES);
    assertThat(campaign.reviewers()).isEqualTo(new Reviewers.LineManagers());
    assertThat(campaign.offered()).contains(new Campaign.Offered("one", "deck"));
    var told =
        offering(map("rhythm", "0 6 1 3 *", "days", "21 days", "reviewers", "holders"))
            .catalogue()
            .orElseThrow();
    assertThat(Objects.requireNonNull(Campaigns.of(told.defined()).get("offer.one")).selfReview())
        .isTrue();
    assertThat(Campaigns.of(SkerryLine.catalogue().defined())).doesNotContainKey("offer.one");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "rhythm | sometimes | say weekly",
        "days | 21 days | rhythm is missing",
        "reviewers | stewards | it has no stewards",
        "reviewers | team nowhere | There is no team",
        "judge | accounts | judge"
      })
  void what_is_wrong_with_a_review_of_an_offer_is_said(String key, String value, String says) {
    assertThat(offering(map(key, value)).problems())
        .extracting(Problem::sentence)
        .anyMatch(each -> each.contains(says));
  }

  @Test
  void a_condition_on_holdings_says_for_each_case_what_it_says_row_by_row() {
    var catalogue = SkerryLine.catalogue();
    for (var text :
        List.of(
            "holding.idle",
            "holding.conflict && !holding.idle",
            "\"request\" in holding.basis || holding.application == \"directory\"",
            "size(holding.basis) == 0",
            "!(\"birthright\" in holding.basis) && holding.risk != \"low\"",
            "holding.privileged || \"x\" in holding.tags")) {
      var condition = catalogue.expressions().holdingCondition(text);
      for (var judged : List.of(Judged.ENTITLEMENTS, Judged.PACKAGES, Judged.ACCOUNTS)) {
        var scope = HoldingScope.of(condition, judged, catalogue);
        for (var key : HoldingScope.all(judged, catalogue).keySet()) {
          for (var bases = 0; bases < 16; bases++) {
            for (var flags = 0; flags < 4; flags++) {
              var idle = (flags & 2) != 0;
              var conflict = (flags & 1) != 0;
              var held =
                  HoldingScope.held(
                      key,
                      HoldingScope.rights(judged, key, catalogue),
                      List.of(),
                      bases,
                      idle,
                      conflict);
              var bit = 1L << HoldingScope.bit(bases, idle, conflict);
              assertThat((scope.getOrDefault(key, 0L) & bit) != 0)
                  .as("%s of %s, bases %d, %s %s", text, key, bases, idle, conflict)
                  .isEqualTo(condition.holds(held));
            }
          }
        }
      }
    }
  }

  @Test
  void bases_are_told_by_their_bits() {
    var all = Arrays.stream(Basis.values()).mapToInt(HoldingScope::bit).sum();
    assertThat(all).isEqualTo(15);
    assertThat(HoldingScope.bases(5)).containsExactly(Basis.BIRTHRIGHT, Basis.DIRECT);
  }

  @Test
  void letters_come_before_the_end_in_order_and_none_after_it() {
    var campaign =
        campaign(
            "campaign", "one",
            "reviewers", "leads",
            "nudge", List.of("9 days", "3 days"),
            "escalate", "6 days",
            "days", "10 days");
    var zone = ZoneId.of("Atlantic/Faroe");
    var launched = Instant.parse("2027-03-25T08:00:00Z");
    var due = RoundClock.due(launched, campaign, zone);
    assertThat(due)
        .as("the same time of day, over the summer's hour")
        .isEqualTo("2027-04-04T07:00:00Z");
    var seen = new ArrayList<String>();
    var clock = new RoundClock(launched, due, 0, false);
    while (true) {
      var next = clock.next(campaign, zone);
      seen.add(next.kind() + " " + next.at());
      if (next.kind() == RoundClock.Kind.CLOSE) {
        break;
      }
      clock =
          new RoundClock(
              launched,
              due,
              clock.nudged() + (next.kind() == RoundClock.Kind.NUDGE ? 1 : 0),
              clock.escalated() || next.kind() == RoundClock.Kind.ESCALATE);
    }
    assertThat(seen)
        .containsExactly(
            "NUDGE 2027-03-25T08:00:00Z",
            "NUDGE 2027-03-28T07:00:00Z",
            "ESCALATE 2027-03-31T07:00:00Z",
            "NUDGE 2027-04-03T07:00:00Z",
            "CLOSE 2027-04-04T07:00:00Z");
  }

  @Test
  void a_suggestion_says_its_reasons_and_the_weightiest_decides() {
    assertThat(suggestion(true, true, true, true, null, null, null).what())
        .isEqualTo(Suggestion.What.REVOKE);
    assertThat(suggestion(false, true, true, true, null, null, null).what())
        .isEqualTo(Suggestion.What.LOOK);
    assertThat(suggestion(false, false, true, true, 10, 9, null).what())
        .isEqualTo(Suggestion.What.KEEP);
    assertThat(suggestion(false, false, true, false, 10, 2, null).reasons())
        .containsExactly("Only 2 of 10 people with the same job have it.");
    assertThat(suggestion(false, false, true, false, 3, 1, null).what())
        .as("few peers say nothing")
        .isEqualTo(Suggestion.What.LOOK);
    assertThat(suggestion(false, false, true, false, null, null, Judgement.REVOKE).reasons())
        .containsExactly("It was revoked last time, and is back.");
    assertThat(suggestion(false, false, false, false, null, null, Judgement.KEEP).what())
        .as("explained by nothing")
        .isEqualTo(Suggestion.What.REVOKE);
  }

  private static Suggestion suggestion(
      boolean idle,
      boolean conflict,
      boolean explained,
      boolean byRule,
      Integer peers,
      Integer holding,
      Judgement before) {
    return Suggestion.of(
        new Suggestion.Context(idle, conflict, false, explained, byRule, peers, holding, before));
  }

  @Test
  void what_is_over_stays_so_and_what_is_open_can_be_decided() {
    for (var state : ItemState.values()) {
      assertThat(state.open())
          .isEqualTo(state == ItemState.UNDECIDED || state == ItemState.DECIDED);
      assertThat(ItemState.ofWord(state.word())).isEqualTo(state);
      if (state.over() && state != ItemState.HANDED) {
        assertThat(state.next()).isEmpty();
      }
    }
  }

  @Test
  void a_reminder_that_would_come_when_the_round_is_over_does_not_come() {
    var campaign = campaign("campaign", "one", "reviewers", "line-managers");
    var launched = Instant.parse("2027-03-01T06:00:00Z");
    var week = launched.plus(Duration.ofDays(7));
    var zone = ZoneId.of("UTC");
    assertThat(new RoundClock(launched, week, 1, false).next(campaign, zone))
        .isEqualTo(new RoundClock.Next(RoundClock.Kind.CLOSE, week));
    assertThat(new RoundClock(launched, week.plusSeconds(1), 1, false).next(campaign, zone))
        .isEqualTo(new RoundClock.Next(RoundClock.Kind.NUDGE, week));
  }
}
