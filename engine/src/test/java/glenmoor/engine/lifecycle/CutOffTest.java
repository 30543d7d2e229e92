package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.lifecycle.CutOff;
import glenmoor.core.people.Standing;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.lifecycle.CutOffViews.InApplication;
import glenmoor.engine.lifecycle.CutOffViews.Progress;
import glenmoor.engine.people.PeopleService;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Somebody must go this minute, whatever their source says. */
class CutOffTest extends EngineTest {
  private static final Actor CLERK =
      new Actor("ada", "Ada Orr", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
  private static final Actor AUDITOR =
      new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
  private static final String WHY = "asked for by the harbour master";
  private static final String UNA_LEFT = "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-28,,";
  private static final String UNA_LEAVES_LATER =
      "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-31,,";
  private static final String UNA_MOVES = "W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,";

  private CutOffService cutOffs;

  @BeforeEach
  void load() {
    environment.load(UNA, BO);
    environment.agenda.sweep();
    environment.sent();
    cutOffs = environment.get(CutOffService.class);
  }

  private CutOffViews.Shown cutOff() {
    return cutOffs.cutOff("W-1", WHY, CLERK);
  }

  private CutOffViews.Shown una() {
    return cutOffs.show("W-1", AUDITOR);
  }

  private void loaded(String... rows) {
    var work = environment.load(rows);
    assertThat(work.state()).as(work.sentence()).isEqualTo("done");
    environment.agenda.sweep();
    environment.settled();
  }

  private boolean active(String worker) {
    return environment.user(worker).path("active").asBoolean();
  }

  private long operations() {
    return environment.number("select count(*) from operation");
  }

  private List<String> eventKinds() {
    return environment.sql.queryForList(
        "select kind from event where person_id = (select id from person where worker_number = 'W-1') order by detected_at, id",
        String.class);
  }

  @Test
  void what_would_go_is_shown_and_nothing_happens() {
    var before = operations();
    var shown = una();
    assertThat(shown.isCutOff()).isFalse();
    assertThat(shown.applications())
        .extracting(InApplication::application, InApplication::progress, InApplication::what)
        .containsExactly(tuple("chartshare", Progress.OPEN, "shut, 2 rights taken"));
    environment.agenda.sweep();
    assertThat(operations()).isEqualTo(before);
    assertThat(active("W-1")).isTrue();
  }

  @Test
  void everything_is_shut_and_seen_to_be_shut() {
    var asked = cutOff();
    assertThat(asked.standing()).isEqualTo(Standing.LEFT);
    assertThat(asked.sourceSays()).isEqualTo(Standing.ACTIVE);
    environment.settled();
    assertThat(active("W-1")).isFalse();
    assertThat(environment.groups("W-1")).isEmpty();
    assertThat(active("W-2")).as("nobody else").isTrue();
    assertThat(una().applications())
        .extracting(InApplication::state, InApplication::progress, InApplication::rights)
        .containsExactly(tuple("disabled", Progress.CONFIRMED, 0));
    assertThat(eventKinds()).containsExactly("joiner", "leaver");
    assertThat(environment.happened("person:W-1")).contains("cut-off");
    assertThat(cutOffs.inForce(null, 10, AUDITOR))
        .extracting(CutOff::workerNumber, CutOff::byLogin, CutOff::reason)
        .containsExactly(tuple("W-1", "ada", WHY));
  }

  @Test
  void asked_twice_it_is_done_once() {
    cutOff();
    environment.settled();
    var before = operations();
    cutOffs.cutOff("w-1", "again", ISA);
    environment.settled();
    assertThat(operations()).isEqualTo(before);
    assertThat(eventKinds()).containsExactly("joiner", "leaver");
    assertThat(una().last()).extracting(CutOff::byLogin).isEqualTo("ada");
  }

  @Test
  void it_goes_before_all_that_waits() {
    environment.define(
        TestEnvironment.skerryLine().replace("connector: scim", "parallel: 0\nconnector: scim"),
        true);
    environment.load(UNA, "W-2,Bo,Tarn,Deck,Hallow Quay,W-1,2021-05-01,,,");
    environment.agenda.sweep();
    cutOff();
    var order =
        environment.sql.queryForList(
            "select p.worker_number from lane l join account a on a.id = l.account_id join person p on p.id = a.person_id where l.due_at is not null order by l.due_at",
            String.class);
    assertThat(order).containsExactly("W-1", "W-2");
  }

  @Test
  void a_feed_that_still_knows_them_gives_nothing_back() {
    cutOff();
    environment.settled();
    var before = operations();
    loaded(UNA_MOVES, BO);
    assertThat(operations()).isEqualTo(before);
    assertThat(active("W-1")).isFalse();
    assertThat(una().isCutOff()).isTrue();
    assertThat(eventKinds()).containsExactly("joiner", "leaver", "correction");
  }

  @Test
  void the_feed_that_follows_agrees_and_does_nothing_twice() {
    cutOff();
    environment.settled();
    var before = operations();
    loaded(UNA_LEFT, BO);
    assertThat(operations()).isEqualTo(before);
    var shown = una();
    assertThat(shown.isCutOff()).isFalse();
    assertThat(shown.standing()).isEqualTo(Standing.LEFT);
    assertThat(shown.last()).extracting(CutOff::ending).isEqualTo("agreed");
    assertThat(cutOffs.inForce(null, 10, AUDITOR)).isEmpty();
    // From here on it is the source that decides.
    loaded(UNA, BO);
    assertThat(active("W-1")).isTrue();
  }

  @Test
  void a_last_day_ahead_agrees_only_when_it_comes() {
    cutOff();
    loaded(UNA_LEAVES_LATER, BO);
    assertThat(una().isCutOff()).isTrue();
    assertThat(active("W-1")).isFalse();
    environment.at("2027-04-01T06:00:00Z");
    assertThat(una().last()).extracting(CutOff::ending).isEqualTo("agreed");
    assertThat(active("W-1")).isFalse();
  }

  @Test
  void whoever_is_missing_from_a_full_feed_has_left_by_their_source() {
    cutOff();
    loaded(BO);
    assertThat(una().sourceSays()).isEqualTo(Standing.LEFT);
    assertThat(una().last()).extracting(CutOff::ending).isEqualTo("agreed");
  }

  @Test
  void brought_back_they_have_what_they_had() {
    var rights = environment.groups("W-1");
    cutOff();
    environment.settled();
    var name = environment.user("W-1").path("userName").asString();
    environment.at("2027-03-11T06:00:00Z");
    cutOffs.bringBack("W-1", "it was somebody else", CLERK);
    environment.settled();
    assertThat(active("W-1")).isTrue();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrderElementsOf(rights);
    assertThat(environment.user("W-1").path("userName").asString()).isEqualTo(name);
    assertThat(una().standing()).isEqualTo(Standing.ACTIVE);
    assertThat(una().applications())
        .extracting(InApplication::state, InApplication::progress)
        .containsExactly(tuple("enabled", Progress.CONFIRMED));
    assertThat(eventKinds()).containsExactly("joiner", "leaver", "rehire");
    environment.at("2027-03-12T06:00:00Z");
    assertThat(una().applications())
        .as("long after, what would go is shown again")
        .extracting(InApplication::progress, InApplication::what)
        .containsExactly(tuple(Progress.OPEN, "shut, 2 rights taken"));
    assertThatThrownBy(() -> cutOffs.bringBack("W-1", WHY, CLERK))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("is not cut off");
    cutOff();
    environment.settled();
    assertThat(active("W-1")).as("and again").isFalse();
  }

  @Test
  void nobody_brings_back_whom_the_source_says_has_left() {
    cutOff();
    loaded(UNA_LEFT, BO);
    assertThatThrownBy(() -> cutOffs.bringBack("W-1", WHY, ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("has left, says their source");
  }

  @Test
  void whoever_has_left_already_is_not_cut_off() {
    loaded(UNA_LEFT, BO);
    assertThatThrownBy(this::cutOff)
        .isInstanceOf(Refused.class)
        .hasMessageContaining("has left already");
  }

  @Test
  void it_takes_the_duty_a_reason_somebody_else_and_another_administrator() {
    assertThatThrownBy(() -> cutOffs.cutOff("W-1", WHY, AUDITOR))
        .hasMessageContaining("may not cut somebody off");
    var manager = new Actor("una", "Una Kerrow", "W-1", List.of());
    assertThatThrownBy(() -> cutOffs.cutOff("W-2", WHY, manager)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> cutOffs.show("W-2", manager)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> cutOffs.cutOff("W-1", " ", CLERK)).hasMessageContaining("Say why");
    assertThatThrownBy(() -> cutOffs.cutOff("W-77", WHY, CLERK)).hasMessageContaining("Nobody has");
    var herself = new Actor("una", "Una Kerrow", "w-1", List.of(Assignment.of(Duty.PEOPLE_DESK)));
    assertThatThrownBy(() -> cutOffs.cutOff("W-1", WHY, herself))
        .hasMessageContaining("Nobody cuts themselves off");
    environment.signIns.put(
        "una",
        "Una",
        "W-1",
        "harbour lights",
        true,
        List.of(Assignment.of(Duty.ADMINISTRATOR)),
        ISA);
    assertThatThrownBy(this::cutOff).hasMessageContaining("last administrator");
    assertThat(active("W-1")).isTrue();
    assertThat(eventKinds()).containsExactly("joiner");
  }

  @Test
  void they_lose_glenmoor_itself_at_once() {
    environment.signIns.put("una", "Una", "W-1", "harbour lights", true, List.of(), ISA);
    var session = environment.signIns.signIn("una", "harbour lights", "192.0.2.7");
    assertThat(una().signIns()).containsExactly("una");
    assertThat(cutOff().signIns()).isEmpty();
    assertThat(environment.signIns.inSession("una", session.epoch())).isEmpty();
    cutOffs.bringBack("W-1", WHY, CLERK);
    assertThat(environment.signIns.inSession("una", session.epoch()))
        .as("a session that ended stays ended")
        .isEmpty();
  }

  @Test
  void facts_that_cannot_be_read_save_nobody() {
    environment.sql.update(
        "update person set facts = json_set(facts, '$.start', 'the first of spring') where worker_number = 'W-1'");
    cutOff();
    environment.settled();
    assertThat(active("W-1")).isFalse();
  }

  @Test
  void an_application_that_does_not_answer_says_so_and_gets_it_when_it_does() {
    environment.failureMode("{\"mode\":\"down\"}");
    cutOff();
    TestEnvironment.eventually(() -> !una().applications().getFirst().reason().isEmpty());
    assertThat(una().applications().getFirst().progress()).isIn(Progress.WAITING, Progress.SENT);
    environment.failureMode("{\"mode\":\"well\"}");
    environment.at("2027-03-01T07:00:00Z");
    environment.settled();
    assertThat(una().applications().getFirst().progress()).isEqualTo(Progress.CONFIRMED);
    assertThat(active("W-1")).isFalse();
  }

  @Test
  void lists_and_counts_know_that_they_have_gone() {
    cutOff();
    assertThat(
            environment
                .people
                .list(new PeopleService.Search(null, Map.of(), "left", null, null, 10, false), ISA)
                .items())
        .extracting(each -> each.worker())
        .containsExactly("W-1");
  }
}
