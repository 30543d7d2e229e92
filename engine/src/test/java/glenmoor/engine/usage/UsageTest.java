package glenmoor.engine.usage;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.applications.Seats;
import glenmoor.engine.usage.IdleAccess.Idle;
import glenmoor.engine.usage.UsageTold.NotTaken;
import glenmoor.engine.usage.UsageTold.Told;
import glenmoor.engine.usage.UsageTold.UsageTaken;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** When access was used, and what is idle. */
class UsageTest extends EngineTest {
  private static final Actor OWNER = owner("chartshare");
  private static final Actor STRANGER = owner("elsewhere");
  private static final Actor UNA = new Actor("una", "Una", "W-1", List.of());

  private static Actor owner(String application) {
    return new Actor(
        "owner",
        "Owner",
        "W-9",
        List.of(
            new Assignment(Duty.APPLICATION_OWNER, Scope.application(application), null, null)));
  }

  private UsageTold told;
  private IdleAccess idle;

  @BeforeEach
  void two_people_with_accounts() {
    var all = TestEnvironment.skerryLine();
    environment.define(
        all.replace("name: Chartshare\n", "name: Chartshare\nidle: 60 days\nseats: 10\n"), true);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.askers.put("owner", OWNER);
    told = environment.get(UsageTold.class);
    idle = environment.get(IdleAccess.class);
  }

  private UsageTaken take(Told... uses) {
    return told.take("chartshare", List.of(uses), OWNER);
  }

  private static Told by(String worker, String at) {
    return new Told("", worker, "", at);
  }

  private List<String> idle() {
    return idle.list(null, "", 100, ISA).stream()
        .map(each -> each.worker() + each.entitlement())
        .toList();
  }

  @Test
  void uses_are_joined_to_accounts_by_their_name_or_their_person_and_older_ones_change_nothing() {
    var taken =
        take(
            new Told("kerrowu", "", "", "2027-02-20T08:00:00Z"),
            new Told("", "w-1", "Charts", "2027-02-25"),
            by("W-2", "2027-02-10 12:30"),
            by("W-2", "2027-02-01"));
    assertThat(taken.taken()).isEqualTo(4);
    assertThat(idle.of("W-1", ISA))
        .extracting(each -> each.entitlement() + " " + each.lastUsed())
        .containsExactlyInAnyOrder(
            " 2027-02-25T00:00:00Z", "chartshare/charts 2027-02-25T00:00:00Z");
    assertThat(idle.of("W-2", ISA))
        .singleElement()
        .satisfies(each -> assertThat(each.lastUsed()).hasToString("2027-02-10T12:30:00Z"));
    assertThat(environment.number("select count(*) from told_use")).isZero();
  }

  @Test
  void what_cannot_be_taken_says_why_and_the_rest_is() {
    var taken =
        take(
            by("W-1", "2027-02-20"),
            by("W-77", "2027-02-20"),
            new Told("nobody", "", "", "2027-02-20"),
            new Told("kerrowu", "W-1", "", "2027-02-20"),
            new Told("", "", "", "2027-02-20"),
            new Told("", "W-1", "Nothing", "2027-02-20"),
            by("W-1", "soon"),
            by("W-1", "2027-03-02"),
            by("?", "2027-02-20"));
    assertThat(taken.taken()).isOne();
    assertThat(taken.rejected()).isEqualTo(8);
    assertThat(taken.notTaken()).extracting(NotTaken::line).contains(2, 3, 4, 5, 6, 7, 8, 9);
  }

  @Test
  void nobody_tells_of_an_application_that_is_not_theirs_or_sees_of_somebody_who_is_not() {
    for (var stranger : List.of(STRANGER, UNA)) {
      assertThatThrownBy(() -> told.take("chartshare", List.of(by("W-1", "2027-02-20")), stranger))
          .isInstanceOf(Refused.class);
    }
    assertThatThrownBy(() -> idle.of("W-1", new Actor("bo", "Bo", "W-2", List.of())))
        .isInstanceOf(Refused.class);
    assertThat(idle.of("W-1", UNA)).isEmpty();
    assertThatThrownBy(() -> idle.list(null, "", 10, UNA)).isInstanceOf(Refused.class);
    assertThat(idle.list(null, "", 10, STRANGER)).isEmpty();
    assertThatThrownBy(() -> idle.list(null, "x/y", 10, ISA)).isInstanceOf(Refused.class);
  }

  private UsageTaken file(String text) {
    try {
      var work =
          told.load(
              "chartshare",
              "uses.csv",
              new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)),
              OWNER);
      var ended = environment.ended(work);
      if (!ended.state().equals("done")) {
        throw Refused.badInput(ended.sentence());
      }
      return JsonMapper.shared().readValue(ended.result(), UsageTaken.class);
    } catch (IOException impossible) {
      throw new UncheckedIOException(impossible);
    }
  }

  @Test
  void a_file_taken_twice_is_the_same_as_once_and_a_broken_one_changes_nothing() {
    var text =
        "account,entitlement,last used\r\nkerrowu,,2027-02-20\r\ntarnb,Slip drawings,2027-02-21\r\nnobody,,2027-02-22\r\n";
    assertThat(file(text).taken()).isEqualTo(2);
    assertThat(file(text).notTaken())
        .singleElement()
        .satisfies(each -> assertThat(each.line()).isEqualTo(4));
    var before = environment.number("select count(*) from access_use");
    for (var wrong :
        List.of(
            "name,when\r\nx,2027-02-20\r\n",
            "",
            "account,last used\r\n\"tarnb,2027-02-23\r\n",
            "account\r\ntarnb\r\n")) {
      try {
        assertThat(file(wrong).taken()).as(wrong).isZero();
      } catch (Refused refused) {
        assertThat(refused.getMessage()).isNotBlank();
      }
    }
    assertThat(environment.number("select count(*) from access_use")).isEqualTo(before);
    assertThat(environment.number("select count(*) from told_use")).isZero();
  }

  @Test
  void what_is_not_used_for_as_long_as_its_application_says_is_idle() {
    environment.at("2027-03-20T08:00:00Z");
    take(new Told("", "W-1", "Charts", "2027-03-20"));
    assertThat(idle()).isEmpty();
    environment.at("2027-05-05T08:00:00Z");
    assertThat(idle()).as("Bo was never seen to use it").containsExactly("W-2");
    assertThat(idle.list(null, "", 100, ISA))
        .singleElement()
        .satisfies(each -> assertThat(each.lastUsed()).isNull());
    // The right is idle by itself once the account was used since.
    environment.at("2027-05-25T08:00:00Z");
    assertThat(idle()).containsExactly("W-1", "W-2");
    take(by("W-1", "2027-05-25"));
    assertThat(idle()).containsExactly("W-1chartshare/charts", "W-2");
    // Page by page the same.
    var first = idle.list(null, "", 1, ISA).getFirst();
    assertThat(idle.list(null, first.account() + "/" + first.entitlement(), 10, ISA))
        .extracting(Idle::worker)
        .containsExactly("W-2");
    take(new Told("", "W-1", "Charts", "2027-05-25"), by("W-2", "2027-05-24"));
    assertThat(idle()).isEmpty();
  }

  @Test
  void an_idle_account_begins_a_playbook_once_and_its_seat_is_free() {
    environment.define(
        """
        playbook: idle-charts
        on: idle
        application: chartshare
        steps:
        - disable: chartshare
        """,
        false);
    var catalogue = environment.catalogues.current();
    var seats = environment.get(Seats.class);
    assertThat(seats.of(List.of("chartshare"), catalogue).getFirst().taken()).isEqualTo(2);
    environment.at("2027-04-20T08:00:00Z");
    take(by("W-1", "2027-04-20"));
    environment.at("2027-05-06T08:00:00Z");
    environment.sent();
    assertThat(environment.user("W-2").path("active").asBoolean()).isFalse();
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
    assertThat(seats.of(List.of("chartshare"), catalogue).getFirst().taken()).isOne();
    environment.at("2027-05-20T08:00:00Z");
    assertThat(environment.number("select count(*) from playbook_run")).isOne();
    assertThatThrownBy(() ->
            environment.define(
                "playbook: x\non: idle\napplication: nothing\nsteps:\n- disable: chartshare",
                false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("on: idle needs application");
  }
}
