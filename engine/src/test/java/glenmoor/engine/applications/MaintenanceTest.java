package glenmoor.engine.applications;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import org.junit.jupiter.api.Test;

/** While an application is maintained, what there is to do waits. It is six in the morning. */
class MaintenanceTest extends EngineTest {
  private void maintained(String at, String lasts) {
    environment.define(
        TestEnvironment.skerryLine()
            .replace(
                "connector: scim",
                "maintenance: {at: '%s', for: %s}\nconnector: scim".formatted(at, lasts)),
        true);
  }

  private long waiting() {
    return environment.number("select count(*) from operation where state = 'waiting'");
  }

  @Test
  void what_there_is_to_do_waits_and_is_done_afterwards() {
    maintained("0 5 * * *", "3 hours");
    environment.load(UNA, BO);
    environment.start();
    assertThat(waiting()).isPositive();
    assertThat(environment.applications.list(ISA).getFirst().sentence())
        .isEqualTo("maintained until 1 Mar 08:00: what there is to do waits");
    assertThat(environment.connections.closed()).containsExactly("chartshare");
    environment.at("2027-03-01T07:59:00Z");
    assertThat(environment.user("W-1").isMissingNode()).as("nothing was sent").isTrue();
    environment.at("2027-03-01T08:00:00Z");
    environment.settled();
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void outside_of_it_nothing_waits() {
    maintained("0 9 * * *", "90 minutes");
    environment.load(UNA);
    environment.sent();
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void what_cannot_be_meant_is_refused() {
    refused("0 5 * * *", "a while", "say how long it takes");
    refused("0 5 * * *", "0 hours", "say how long it takes");
    refused("0 5 * * *", "200 hours", "at most 168 hours");
    refused("at five", "3 hours", "half past two every night");
  }

  private void refused(String at, String lasts, String sentence) {
    assertThatThrownBy(() -> maintained(at, lasts))
        .isInstanceOf(Refused.class)
        .extracting(refused -> ((Refused) refused).mistakes().toString())
        .asString()
        .contains(sentence);
  }
}
