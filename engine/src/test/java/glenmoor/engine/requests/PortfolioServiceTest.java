package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.StatedReason;
import glenmoor.engine.requests.PortfolioService.PortfolioListed;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class PortfolioServiceTest extends EngineTest {
  private static final StatedReason WHY = new StatedReason("the new season");
  private static final String TWO =
      """
      portfolio: bridge
      entitlements: [chartshare/charts]
      ---
      portfolio: shore
      entitlements: [chartshare/westholm]
      """;

  private PortfolioService portfolios;

  @BeforeEach
  void people() {
    portfolios = environment.get(PortfolioService.class);
    environment.define(TWO, false);
    environment.load(UNA, BO);
    environment.signIns.put("una", "", "W-1", "harbour lights", true, List.of(), ISA);
    environment.signIns.put("bo", "", "W-2", "harbour lights", true, List.of(), ISA);
  }

  private void give(String login, String words, LocalDate from, LocalDate until) {
    environment.duties.give(login, environment.duties.read(words, from, until), WHY, ISA);
  }

  private List<String> stewards(String portfolio, Actor actor) {
    return portfolios.list(actor).stream()
        .filter(each -> each.key().equals(portfolio))
        .map(PortfolioListed::stewards)
        .flatMap(each -> each.stream().map(who -> who.name()))
        .toList();
  }

  @Test
  void who_looks_after_a_portfolio_is_listed_once_and_only_while_they_do() {
    give("bo", "steward:bridge", null, null);
    give("bo", "steward:shore", null, null);
    give("una", "steward:bridge", LocalDate.of(2027, 3, 2), LocalDate.of(2027, 3, 3));
    assertThat(stewards("bridge", ISA)).containsExactly("Bo Tarn");
    assertThat(stewards("shore", ISA)).containsExactly("Bo Tarn");
    environment.clock.moveTo(Instant.parse("2027-03-02T00:00:01Z"));
    assertThat(stewards("bridge", ISA)).containsExactly("Bo Tarn", "Una Kerrow");
    assertThat(stewards("shore", ISA)).containsExactly("Bo Tarn");
    environment.signIns.takeAway("bo", "moved on", ISA);
    assertThat(stewards("bridge", ISA)).containsExactly("Una Kerrow");
    environment.clock.moveTo(Instant.parse("2027-03-04T00:00:01Z"));
    assertThat(stewards("bridge", ISA)).isEmpty();
  }

  @Test
  void a_bundler_of_one_learns_of_no_other() {
    give("una", "steward:shore", null, null);
    var bundler =
        new Actor(
            "bo",
            "Bo Tarn",
            "W-2",
            List.of(new Assignment(Duty.BUNDLER, Scope.portfolio("bridge"), null, null)));
    assertThat(portfolios.list(bundler)).extracting(PortfolioListed::key).containsExactly("bridge");
    assertThat(stewards("shore", bundler)).isEmpty();
  }
}
