package glenmoor.engine.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.access.Why;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class AccessServiceTest extends EngineTest {
  @BeforeEach
  void load() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,");
    environment.sent();
  }

  @Test
  void why_goes_from_the_fact_to_the_account() {
    var why = environment.access.why("W-1", "chartshare/westholm", TestEnvironment.ISA);
    assertThat(why.observed()).isTrue();
    assertThat(why.paths()).hasSize(1);
    assertThat(why.paths().getFirst().links())
        .extracting(Why.Link::kind)
        .containsExactly("standing", "fact", "birthright", "package", "entitlement", "account");
    assertThat(why.paths().getFirst().links().get(1).text()).endsWith("Westholm");
    assertThat(why.paths().getFirst().sentence()).isEqualTo("in force");
  }

  @Test
  void each_way_to_the_same_right_is_told() {
    assertThat(environment.access.why("W-2", "chartshare/charts", TestEnvironment.ISA).paths())
        .hasSize(2);
  }

  @Test
  void a_right_may_be_named_as_people_name_it() {
    assertThat(environment.access.why("W-1", "slip drawings", TestEnvironment.ISA).paths())
        .isEmpty();
    assertThatThrownBy(() -> environment.access.why("W-1", "the moon", TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("the moon");
  }

  @Test
  void why_still_knows_what_has_ended() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Hallow Quay,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,");
    environment.settled();
    var why = environment.access.why("W-1", "chartshare/westholm", TestEnvironment.ISA);
    assertThat(why.observed()).isFalse();
    assertThat(why.paths().getFirst().inForce()).isFalse();
    assertThat(why.paths().getFirst().sentence()).startsWith("ended: ");
  }

  @Test
  void the_line_of_time_has_a_bar_a_grant() {
    var timeline = environment.access.timeline("W-2", TestEnvironment.ISA);
    assertThat(timeline.lanes()).hasSize(1);
    assertThat(timeline.lanes().getFirst().bars())
        .extracting(AccessService.Bar::name)
        .containsExactly("Shipyard", "Start kit");
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Deck,Hallow Quay,W-1,2021-05-01,,,");
    assertThat(environment.access.timeline("W-2", TestEnvironment.ISA).lanes().getFirst().bars())
        .filteredOn(bar -> bar.name().equals("Shipyard"))
        .singleElement()
        .satisfies(bar -> assertThat(bar.until()).isNotNull());
  }

  @Test
  void an_account_is_shown_as_wanted_and_as_seen() {
    environment.failureMode("{\"mode\":\"down\"}");
    environment.load(
        "W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,");
    var account = environment.access.accounts("W-1", TestEnvironment.ISA).getFirst();
    assertThat(account.applicationName()).isEqualTo("Chartshare");
    assertThat(account.attributes()).containsEntry("title", "Shipyard");
    assertThat(account.holdings())
        .extracting(each -> each.entitlement() + " " + each.desired() + " " + each.observed())
        .containsExactly(
            "chartshare/charts true true",
            "chartshare/drawings true false",
            "chartshare/westholm true true");
  }

  @Test
  void why_says_until_when_a_grace_lasts() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Deck,Hallow Quay,W-1,2021-05-01,,,");
    assertThat(
            environment
                .access
                .why("W-2", "chartshare/drawings", TestEnvironment.ISA)
                .paths()
                .getFirst()
                .sentence())
        .isEqualTo("in force until 6 Mar 2027: facts no longer meet the birthright");
  }

  @Test
  void why_of_a_past_right_is_told_by_what_was_so_then() {
    environment.define(
        TestEnvironment.skerryLine().replace("name: At Westholm", "name: At the west pier"), true);
    environment.load(
        "W-1,Una,Kerrow,Deck,Hallow Quay,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,");
    environment.settled();
    var links =
        environment
            .access
            .why("W-1", "chartshare/westholm", TestEnvironment.ISA)
            .paths()
            .getFirst()
            .links();
    assertThat(links.get(1).text()).as("the fact of then").endsWith("Westholm");
    assertThat(links)
        .filteredOn(each -> each.kind().equals("package"))
        .extracting(Why.Link::text)
        .containsExactly("At Westholm");
  }
}
