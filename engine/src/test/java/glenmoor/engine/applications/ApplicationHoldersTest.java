package glenmoor.engine.applications;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.ApplicationHolders.AccountLine;
import glenmoor.engine.applications.ApplicationHolders.Coming;
import glenmoor.engine.applications.ApplicationHolders.RightLine;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What there is to see of an application, and for whom. */
class ApplicationHoldersTest extends EngineTest {
  private ApplicationHolders holders;

  @BeforeEach
  void load() {
    environment.load(UNA, BO);
    environment.sent();
    holders = environment.get(ApplicationHolders.class);
  }

  @Test
  void rights_have_their_counts_and_what_gives_them() {
    assertThat(holders.show("chartshare", ISA).rights())
        .extracting(RightLine::name, RightLine::holders, RightLine::packages)
        .containsExactly(
            tuple("Charts", 2, List.of("Shipyard", "Start kit")),
            tuple("Slip drawings", 1, List.of("Shipyard")),
            tuple("Westholm's shelf", 1, List.of("At Westholm")));
  }

  @Test
  void accounts_are_listed_to_the_last_page_and_by_how_they_were_seen() {
    var first = holders.accounts("chartshare", null, 0, 1, ISA);
    assertThat(first).hasSize(1);
    var second = holders.accounts("chartshare", null, first.getFirst().id(), 1, ISA);
    assertThat(List.of(first.getFirst().worker(), second.getFirst().worker()))
        .containsExactlyInAnyOrder("W-1", "W-2");
    assertThat(holders.accounts("chartshare", null, second.getFirst().id(), 1, ISA)).isEmpty();
    environment.load(UNA, BO.replace("2021-05-01,", "2021-05-01,2027-02-28"));
    environment.settled();
    assertThat(holders.accounts("chartshare", "disabled", 0, 10, ISA))
        .extracting(AccountLine::worker, AccountLine::rights)
        .containsExactly(tuple("W-2", 0));
    assertThatThrownBy(() -> holders.accounts("chartshare", "asleep", 0, 10, ISA))
        .hasMessageContaining("enabled, disabled, none");
  }

  @Test
  void the_next_days_bring_deletions_after_the_hold_and_ends_of_graces() {
    assertThat(holders.show("chartshare", ISA).coming()).isEmpty();
    environment.load(UNA.replace("2020-01-01,", "2020-01-01,2027-02-28"), BO);
    environment.load(
        UNA.replace("2020-01-01,", "2020-01-01,2027-02-28"), BO.replace("Shipyard", "Deck"));
    environment.settled();
    assertThat(holders.show("chartshare", ISA).coming())
        .containsExactly(
            new Coming(LocalDate.parse("2027-03-06"), "ending", 1),
            new Coming(LocalDate.parse("2027-03-31"), "deleted", 1));
  }

  @Test
  void it_says_how_accounts_are_looked_after() {
    assertThat(holders.show("chartshare", ISA).care())
        .contains(
            "accounts are made 7 days before the first day, and opened on it",
            "an account that nobody needs is held 30 days, then deleted");
  }

  @Test
  void whose_application_it_is_not_knows_of_none() {
    var owner =
        new Actor(
            "rhona",
            "Rhona Vane",
            null,
            List.of(environment.duties.read("application-owner:chartshare", null, null)));
    assertThat(holders.show("chartshare", owner).key()).isEqualTo("chartshare");
    assertThatThrownBy(() -> holders.show("quaybook", owner)).isInstanceOf(Refused.class);
    var nobody = new Actor("tam", "Tam", "W-1", List.of());
    assertThatThrownBy(() -> holders.show("chartshare", nobody)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> holders.accounts("chartshare", null, 0, 10, nobody))
        .isInstanceOf(Refused.class);
  }
}
