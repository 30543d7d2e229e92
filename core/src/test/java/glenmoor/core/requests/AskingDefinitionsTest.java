package glenmoor.core.requests;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.SkerryLine;
import glenmoor.core.definitions.Problem;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Portfolios, routes, offers and conflict rules: what is wrong is found when it is saved. */
class AskingDefinitionsTest {
  private static final String AROUND =
      """
      portfolio: shore
      entitlements: [chartshare/charts, directory/crew]
      ---
      package: lookout
      portfolio: shore
      entitlements: [chartshare/charts]
      ---
      team: bridge
      members: [W-01007]
      ---
      route: stewards
      stages: [{ask: stewards}]
      ---
      route: manager
      stages: [{ask: line-manager}]
      ---
      """;

  private static List<String> wrong(String yaml) {
    return SkerryLine.problems(AROUND + yaml).stream().map(Problem::sentence).toList();
  }

  private static List<String> withStage(String stage) {
    return wrong("route: r\nstages:\n- " + stage.replace(" / ", "\n  ") + "\n");
  }

  private static List<String> withOffer(String more) {
    return wrong(
        "offer: o\npackage: lookout\nportfolio: shore\n" + more.replace(" / ", "\n") + "\n");
  }

  @Test
  void what_is_right_has_nothing_wrong() {
    assertThat(
            withOffer(
                "route: manager / for: person.department == \"Deck\" / term: up to 30 days / asked-by: [person, anyone]"))
        .isEmpty();
    assertThat(
            withStage(
                "ask: [line-manager, team bridge] / agree: all / nudge: [1 day, 3 days] / standby: administrators / standby-from: 4 days / lapse: 6 days / on-to: managers-manager / where: ask.risk == \"high\" && ask.days > 3"))
        .isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "ask: captain | ask has “captain”; say some of",
        "ask: team nowhere | There is no team “nowhere”",
        "ask: person no! | “no!” is not a worker number",
        "agree: any | says whom it asks",
        "ask: line-manager / nudge: 7 days / lapse: 7 days | A reminder comes before",
        "ask: line-manager / standby: stewards / standby-from: 9 days / lapse: 7 days | join in before the stage lapses",
        "ask: line-manager / nudge: 3 days / standby: stewards / standby-from: 2 days | after the first reminder",
        "ask: line-manager / standby: stewards | say both or neither",
        "ask: line-manager / lapse: 0 days | say from 1 to 365",
        "ask: line-manager / where: ask.colour == 1 | cannot be used",
        "ask: line-manager / beside: yes | none before it"
      })
  void a_stage_that_cannot_be_is_refused(String stage, String sentence) {
    assertThat(withStage(stage)).anyMatch(each -> each.contains(sentence));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "route: nowhere | There is no route “nowhere”",
        "route: manager / term: soon | say how long it lasts",
        "route: manager / term: until 2027-02-31 | say how long it lasts",
        "route: manager / asked-by: [nobody, person] | asked-by is nobody, or some",
        "route: manager / for: person.rank > 3 | there is no fact rank",
        "route: manager / questions: [{key: h, ask: Where, choices: [A], gives: {A: [directory/deck]}}] | not in the portfolio shore",
        "route: manager / questions: [{key: h, ask: Where, choices: [A], gives: {B: [chartshare/charts]}}] | none of the choices",
        "route: manager / questions: [{key: h, ask: A}, {key: h, ask: B}] | two questions “h”",
        "route: manager / questions: [{key: h, ask: A, kind: choice}] | choices belong to"
      })
  void an_offer_that_cannot_be_is_refused(String offer, String sentence) {
    assertThat(withOffer(offer)).anyMatch(each -> each.contains(sentence));
  }

  @Test
  void a_package_is_made_of_its_portfolio_and_an_offer_says_the_same_one() {
    assertThat(wrong("package: p\nportfolio: shore\nentitlements: [directory/deck]"))
        .anyMatch(each -> each.contains("is not in the portfolio shore"));
    assertThat(wrong("package: p\nportfolio: deep\nentitlements: []"))
        .anyMatch(each -> each.contains("There is no portfolio “deep”"));
    assertThat(wrong("offer: o\npackage: lookout\nroute: manager"))
        .anyMatch(each -> each.contains("is in the portfolio shore; an offer says the same"));
    assertThat(wrong("offer: o\npackage: deck\nroute: stewards"))
        .anyMatch(
            each -> each.contains("asks the stewards, and the package deck is in no portfolio"));
  }

  @Test
  void an_application_may_keep_its_entitlements_from_portfolios() {
    assertThat(
            wrong(
                "application: ledgers\nconnector: scim\nopen-to: [money]\naccount: {name: person.worker}\n---\nentitlement: ledgers/read\n---\nportfolio: deep\nentitlements: [ledgers/read]"))
        .singleElement()
        .asString()
        .contains("opens its entitlements to other portfolios only");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "risk: r | either sides",
        "risk: r / sides: [chartshare/charts] | two sides or more",
        "risk: r / sides: [chartshare/charts, directory/nothing] | There is no entitlement",
        "risk: r / of: [chartshare/charts, directory/crew] / most: 2 | it is from 1 to 1",
        "risk: r / sides: [chartshare/charts, directory/crew] / exempt: 900 days | lasts from 1 to 366"
      })
  void a_conflict_rule_that_cannot_be_is_refused(String rule, String sentence) {
    assertThat(wrong("conflict-rule: c\n" + rule.replace(" / ", "\n")))
        .anyMatch(each -> each.contains(sentence));
  }

  @Test
  void a_term_of_days_ends_at_the_same_time_of_day_whatever_the_clocks_did() {
    var winter = Instant.parse("2027-03-20T09:00:00Z");
    // Summer time begins on 28 March 2027.
    assertThat(Term.of("14 days").orElseThrow().end(winter, null, SkerryLine.ZONE))
        .isEqualTo(Instant.parse("2027-04-03T08:00:00Z"));
    assertThat(Term.of("36 hours").orElseThrow().end(winter, null, SkerryLine.ZONE))
        .isEqualTo(Instant.parse("2027-03-21T21:00:00Z"));
    var upTo = Term.of("up to 10 days").orElseThrow();
    assertThat(upTo.end(winter, LocalDate.of(2027, 3, 25), SkerryLine.ZONE))
        .isEqualTo(Instant.parse("2027-03-26T00:00:00Z"));
    assertThatThrownBy(() -> upTo.end(winter, LocalDate.of(2027, 4, 5), SkerryLine.ZONE))
        .hasMessageContaining("too far");
    assertThatThrownBy(() -> upTo.end(winter, LocalDate.of(2027, 3, 19), SkerryLine.ZONE))
        .hasMessageContaining("before it begins");
    assertThatThrownBy(() ->
            Term.of("14 days")
                .orElseThrow()
                .end(winter, LocalDate.of(2027, 3, 25), SkerryLine.ZONE))
        .hasMessageContaining("says how long");
    assertThatThrownBy(
            () -> Term.of("until 2027-03-19").orElseThrow().end(winter, null, SkerryLine.ZONE))
        .hasMessageContaining("over when it begins");
    for (var text : List.of("open", "1 hour", "up to 7 days", "until 2027-10-31")) {
      assertThat(Term.of(text).orElseThrow().written()).isEqualTo(text);
    }
  }
}
