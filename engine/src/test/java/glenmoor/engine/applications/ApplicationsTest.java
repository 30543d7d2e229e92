package glenmoor.engine.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DataAccessResourceFailureException;

/** What an application is blamed for, and what not. */
class ApplicationsTest extends EngineTest {
  private Application chartshare() {
    return environment.connections.all().getFirst();
  }

  private String health() {
    return environment.applications.list(TestEnvironment.ISA).getFirst().health();
  }

  @Test
  void our_own_database_being_away_is_no_answer_of_the_application() {
    environment.connections.through(chartshare(), connector -> new Outcome.Confirmed("1", ""));
    for (var i = 0; i < 30; i++) {
      assertThatThrownBy(() ->
              environment.connections.through(
                  chartshare(),
                  connector -> {
                    throw new DataAccessResourceFailureException("away");
                  }))
          .isInstanceOf(DataAccessResourceFailureException.class);
    }
    assertThat(environment.connections.open(chartshare())).isTrue();
    assertThat(health()).isEqualTo("well");
  }

  @Test
  void a_connector_that_fails_in_an_unforeseen_way_makes_a_fault_that_says_where_to_look() {
    var outcome =
        environment.connections.through(
            chartshare(),
            connector -> {
              throw new IllegalStateException("a secret of the inside");
            });
    assertThat(outcome)
        .isInstanceOfSatisfying(
            Outcome.Refused.class,
            refused ->
                assertThat(refused.reason()).contains("service's log").doesNotContain("secret"));
  }

  @Test
  void one_that_nothing_answers_for_is_not_asked_on_and_on() {
    for (var i = 0; i < 30; i++) {
      environment.connections.through(
          chartshare(), connector -> new Outcome.Unreachable("Nothing answers"));
    }
    assertThat(environment.connections.open(chartshare())).isFalse();
    assertThat(health()).isEqualTo("unwell");
    assertThat(
            environment.connections.through(
                chartshare(), connector -> new Outcome.Confirmed("1", "")))
        .as("the breaker is open")
        .isInstanceOf(Outcome.Unreachable.class);
  }

  @Test
  void what_another_service_wrote_is_corrected_by_the_next_test() {
    environment.health.begin();
    TestEnvironment.eventually(() -> health().equals("well"));
    environment.sql.update("update application_health set state = 'unwell', sentence = 'gone'");
    // An application that is being asked is not asked a second time, so what recurs comes again.
    TestEnvironment.eventually(() -> {
      environment.health.begin();
      return health().equals("well");
    });
  }
}
