package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.campaigns.CampaignsTest.BO;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.lifecycle.CutOffService;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What is revoked stays revoked whatever happens in between, until somebody decides again. */
class StandingRevocationsTest extends CampaignTest {
  private static final String CAL = "W-3,Cal,Ness,Shipyard,Westholm,W-2,2021-01-01,,,";
  private static final String SHELF = "chartshare/westholm";

  @BeforeEach
  void bo_leads_cal() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO, CAL);
    environment.sent();
  }

  private void load(String cal) {
    var work = environment.load(TestEnvironment.UNA, TestEnvironment.BO, cal);
    assertThat(work.state()).as(work.sentence()).isEqualTo("done");
    environment.agenda.sweep();
    environment.sent();
  }

  private long revoked(String definition) {
    var round = launchedRound("reviewers: line-managers\n" + definition);
    decide(BO, REVOKE, item(round, "W-3", SHELF).id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/charts").id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/drawings").id());
    return item(round, "W-3", SHELF).review();
  }

  private void later(String day) {
    environment.at(day + "T06:00:00Z");
    follow();
  }

  @Test
  void whoever_is_cut_off_when_it_acts_comes_back_without_it() {
    reviews.signOff(revoked("answer: 3 days\n"), BO);
    follow();
    assertThat(environment.groups("W-3")).contains("Westholm");
    var cutOffs = environment.get(CutOffService.class);
    cutOffs.cutOff("W-3", "asked for by the harbour master", ISA);
    later("2027-03-06");
    cutOffs.bringBack("W-3", "it was somebody else", ISA);
    later("2027-03-07");
    assertThat(environment.groups("W-3")).contains("Charts").doesNotContain("Westholm");
  }

  @Test
  void whoever_moves_out_and_back_in_does_not_get_it_from_the_rule() {
    reviews.signOff(revoked("answer: 3 days\n"), BO);
    follow();
    load(CAL.replace("Westholm", "Hallow Quay"));
    later("2027-03-06");
    load(CAL);
    assertThat(environment.groups("W-3")).contains("Charts").doesNotContain("Westholm");
  }

  @Test
  void whoever_is_reported_as_left_by_mistake_comes_back_without_it() {
    reviews.signOff(revoked("answer: 1 day\n"), BO);
    load(CAL.replace("2021-01-01,,", "2021-01-01,2027-02-28,"));
    later("2027-03-04");
    load(CAL);
    assertThat(environment.groups("W-3")).contains("Charts").doesNotContain("Westholm");
  }

  @Test
  void whoever_leaves_between_decision_and_sign_off_comes_back_without_it() {
    var review = revoked("");
    load(CAL.replace("2021-01-01,,", "2021-01-01,2027-02-28,"));
    later("2027-03-02");
    reviews.signOff(review, BO);
    load(CAL);
    later("2027-03-03");
    assertThat(environment.groups("W-3")).contains("Charts").doesNotContain("Westholm");
  }

  @Test
  void what_a_request_gave_and_was_revoked_no_later_rule_gives() {
    load(CAL.replace("Westholm", "Hallow Quay"));
    give(801, "W-3", "package", "westholm", "2027-03-01 05:00:00");
    assertThat(environment.groups("W-3")).contains("Westholm");
    reviews.signOff(revoked(""), BO);
    follow();
    assertThat(environment.groups("W-3")).doesNotContain("Westholm");
    load(CAL);
    assertThat(environment.groups("W-3")).as("the rule would").doesNotContain("Westholm");
    environment.define(
        TestEnvironment.skerryLine()
            .replace(
                "entitlements: [chartshare/charts]\n",
                "entitlements: [chartshare/charts, chartshare/westholm]\n"),
        true);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-3")).as("a changed package").doesNotContain("Westholm");
  }

  @Test
  void a_package_revoked_of_a_rule_gives_nothing_once_what_else_gave_part_of_it_is_over() {
    give(802, "W-3", "entitlement", "chartshare/charts", "2027-03-01 05:00:00");
    var round = launchedRound("judge: packages\nreviewers: line-managers\n");
    decide(BO, REVOKE, item(round, "W-3", "start-kit").id(), item(round, "W-3", "shipyard").id());
    decide(BO, KEEP, item(round, "W-3", "westholm").id());
    reviews.signOff(item(round, "W-3", "westholm").review(), BO);
    follow();
    assertThat(environment.groups("W-3")).containsExactlyInAnyOrder("Charts", "Westholm");
    environment.sql.update("update access_grant set ends_at = '2027-03-02' where id = 802");
    environment.sql.update("update person set due_at = '2027-03-01'");
    later("2027-03-03");
    assertThat(environment.groups("W-3")).containsExactly("Westholm");
  }

  @Test
  void what_is_agreed_to_in_the_days_to_answer_is_a_new_decision() {
    reviews.signOff(revoked("answer: 5 days\n"), BO);
    follow();
    environment.at("2027-03-03T06:00:00Z");
    give(803, "W-3", "package", "westholm", "2027-03-03 06:00:00");
    later("2027-03-08");
    assertThat(environment.groups("W-3")).contains("Westholm");
    assertThat(environment.number("select count(*) from campaign_item where state = 'again'"))
        .isEqualTo(1);
    // It is over, and the rule gives nothing back.
    environment.sql.update(
        "update access_grant set ends_at = '2027-03-08 07:00:00' where id = 803");
    environment.sql.update("update person set due_at = '2027-03-08'");
    later("2027-03-09");
    assertThat(environment.groups("W-3")).doesNotContain("Westholm");
  }

  @Test
  void who_owns_the_application_lifts_it_now_or_after_a_day() {
    reviews.signOff(revoked(""), BO);
    follow();
    var rights = environment.get(RevokedRights.class);
    var one = rights.of("W-3", ISA).getFirst();
    assertThat(one.target()).isEqualTo(SHELF);
    assertThat(one.by()).isEqualTo(BO.login());
    var owner = owner("chartshare", "W-9");
    for (var stranger : List.of(BO, owner("quaybook", "W-8"), owner("chartshare", "W-3"))) {
      assertThatThrownBy(() -> rights.release(one.id(), null, "needed", stranger))
          .isInstanceOf(Refused.class);
    }
    assertThatThrownBy(
            () -> rights.release(one.id(), LocalDate.parse("2027-02-28"), "needed", owner))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("is over");
    rights.release(one.id(), LocalDate.parse("2027-03-04"), "needed in spring", owner);
    later("2027-03-04");
    assertThat(environment.groups("W-3")).doesNotContain("Westholm");
    later("2027-03-05");
    assertThat(environment.groups("W-3")).contains("Westholm");
    assertThat(environment.happened("person:W-3")).contains("revoked", "revocation-ends");
  }

  @Test
  void an_account_that_its_holder_answers_for_is_left_until_its_reviewer_decides() {
    var round = launchedRound("judge: accounts\nreviewers: line-managers\nanswer: 3 days\n");
    var account =
        items(round).stream().filter(each -> each.worker().equals("W-3")).findFirst().orElseThrow();
    decide(BO, REVOKE, account.id());
    reviews.signOff(account.review(), BO);
    follow();
    reviews.answer(account.id(), "I chart with it", new Actor("cal", "Cal", "W-3", List.of()));
    later("2027-03-06");
    assertThat(environment.groups("W-3")).hasSize(3);
  }

  private static Actor owner(String application, String worker) {
    return new Actor(
        "owner-" + worker,
        "Owner",
        worker,
        List.of(Assignment.of(Duty.APPLICATION_OWNER, application)));
  }
}
