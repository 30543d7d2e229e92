package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static glenmoor.engine.TestEnvironment.counted;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.definitions.DefinitionFile;
import glenmoor.engine.people.PeopleService.PersonShown;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Several full feeds in a row have to miss somebody before they have left. */
class MissingTest extends EngineTest {
  private static final String EXPECTED = "W-9,Ilo,Vane,Deck,Westholm,,2027-03-05,,,";
  private static final String SECOND_DAY = "2027-03-02T06:00:00Z";
  private static final String THIRD_DAY = "2027-03-03T06:00:00Z";

  @BeforeEach
  void load() {
    after(2);
    environment.load(UNA, BO);
  }

  private void after(int feeds) {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("worker: Worker no", "missing-after: %d\nworker: Worker no".formatted(feeds)),
        true);
  }

  private PersonShown una() {
    return environment.people.show("W-1", ISA);
  }

  private String standing() {
    return una().person().standing();
  }

  @Test
  void the_first_feed_without_them_ends_nobody_and_says_so() {
    var forecast = environment.forecast(BO);
    assertThat(forecast.path("warnings").toString()).contains("1 person was not named");
    var work = environment.load(BO);
    assertThat(counted(work)).isEmpty();
    assertThat(work.result()).contains("1 person was not named, and has left only if");
    assertThat(standing()).isEqualTo("active");
    assertThat(una().missingFeeds()).isEqualTo(1);
    assertThat(environment.people.show("W-2", ISA).missingFeeds()).isZero();
  }

  @Test
  void the_next_days_feed_does() {
    environment.load(BO);
    environment.at(SECOND_DAY);
    assertThat(counted(environment.load(BO))).containsOnly(entry("leaver", 1));
    assertThat(standing()).isEqualTo("left");
    assertThat(una().missingFeeds()).isZero();
  }

  @Test
  void the_same_file_twice_on_one_day_says_so_once() {
    environment.load(BO);
    assertThat(counted(environment.load(BO))).isEmpty();
    assertThat(counted(environment.load(BO))).isEmpty();
    assertThat(una().missingFeeds()).isEqualTo(1);
    assertThat(standing()).isEqualTo("active");
  }

  @Test
  void whoever_is_named_in_between_begins_anew() {
    environment.load(BO);
    environment.at(SECOND_DAY);
    assertThat(counted(environment.load(UNA, BO))).isEmpty();
    assertThat(una().missingFeeds()).isZero();
    environment.at(THIRD_DAY);
    assertThat(counted(environment.load(BO))).isEmpty();
    assertThat(standing()).isEqualTo("active");
  }

  @Test
  void so_does_whoever_is_named_again_on_the_same_day() {
    environment.load(BO);
    environment.load(UNA, BO);
    environment.at(SECOND_DAY);
    assertThat(counted(environment.load(BO))).isEmpty();
    assertThat(una().missingFeeds()).isEqualTo(1);
  }

  @Test
  void a_doubtful_file_counts_neither_way() {
    environment.load(BO);
    environment.at(SECOND_DAY);
    var doubtful = environment.loadText(TestEnvironment.HEADING + BO + "\r\nW-8,Kai");
    assertThat(doubtful.result()).contains("Nobody was counted as missing");
    assertThat(una().missingFeeds()).isEqualTo(1);
    assertThat(standing()).isEqualTo("active");
  }

  @Test
  void whoever_had_not_begun_never_came() {
    after(1);
    environment.load(UNA, BO, EXPECTED);
    environment.sent();
    assertThat(environment.user("W-9").isMissingNode()).as("made ready").isFalse();
    assertThat(counted(environment.load(UNA, BO))).containsOnly(entry("no-show", 1));
    environment.agenda.sweep();
    environment.settled();
    environment.at("2027-03-06T06:00:00Z");
    assertThat(environment.user("W-9").path("active").asBoolean())
        .as("their first day opens nothing")
        .isFalse();
    assertThat(environment.groups("W-9")).isEmpty();
    assertThat(counted(environment.load(UNA, BO, EXPECTED)))
        .as("and came after all")
        .containsOnly(entry("rehire", 1));
  }

  @Test
  void what_cannot_be_meant_is_refused() {
    var yaml = TestEnvironment.skerryLine();
    assertThatThrownBy(() -> after(11))
        .isInstanceOf(Refused.class)
        .extracting(refused -> ((Refused) refused).mistakes().toString())
        .asString()
        .contains("from 1 to 10");
    var changes =
        yaml.replace("worker: Worker no", "missing-after: 2\nmode: changes\nworker: Worker no");
    assertThatThrownBy(
            () -> environment.define(List.of(new DefinitionFile("x.yaml", changes)), true))
        .isInstanceOf(Refused.class)
        .extracting(refused -> ((Refused) refused).mistakes().toString())
        .asString()
        .contains("brings changes only");
  }
}
