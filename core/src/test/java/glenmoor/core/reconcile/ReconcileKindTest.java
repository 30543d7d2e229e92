package glenmoor.core.reconcile;

import static glenmoor.core.SkerryLine.documents;
import static glenmoor.core.SkerryLine.map;
import static glenmoor.core.SkerryLine.read;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.definitions.Problem;
import java.util.List;
import org.junit.jupiter.api.Test;

class ReconcileKindTest {
  private static List<String> problems(Object... said) {
    var documents = documents();
    documents.add(map(said));
    return read(documents).problems().stream().map(Problem::toString).toList();
  }

  private static ReconcileRule rule(Object... said) {
    var documents = documents();
    documents.add(map(said));
    var result = read(documents);
    assertThat(result.problems()).isEmpty();
    return ReconcileKind.of("directory", result.catalogue().orElseThrow().defined());
  }

  @Test
  void what_is_not_said_is_only_reported() {
    assertThat(rule("reconcile", "directory", "ghost-account", "repair"))
        .satisfies(rule -> {
          assertThat(rule.response(DriftKind.GHOST_ACCOUNT)).isEqualTo(Response.REPAIR);
          assertThat(rule.response(DriftKind.EXTRA_ENTITLEMENT)).isEqualTo(Response.REPORT);
          assertThat(rule.at()).isEmpty();
        });
  }

  @Test
  void an_application_that_cannot_be_listed_cannot_be_compared() {
    assertThat(problems("reconcile", "chartshare"))
        .singleElement()
        .asString()
        .contains("cannot list accounts");
  }

  @Test
  void an_application_that_there_is_not_is_refused() {
    assertThat(problems("reconcile", "nowhere"))
        .singleElement()
        .asString()
        .contains("“nowhere” is no application");
  }

  @Test
  void each_kind_of_drift_has_answers_of_its_own() {
    assertThat(
            problems("reconcile", "directory", "ghost-account", "adopt", "stray-account", "repair"))
        .anyMatch(each -> each.contains("ghost-account is “adopt”; say one of report, repair, ask"))
        .anyMatch(
            each -> each.contains("stray-account is “repair”; say one of report, adopt, ask"));
  }

  @Test
  void a_schedule_that_is_none_is_refused_with_an_example() {
    assertThat(problems("reconcile", "directory", "at", "every night"))
        .singleElement()
        .asString()
        .contains("at is “every night”")
        .contains("30 2 * * *");
  }

  @Test
  void a_join_names_an_attribute_that_is_mapped_and_an_expression_that_can_be_computed() {
    assertThat(
            problems(
                "reconcile",
                "directory",
                "join",
                map("attribute", "shoeSize", "is", "person.nothing")))
        .anyMatch(each -> each.contains("maps no attribute “shoeSize”"))
        .anyMatch(each -> each.contains("nothing"));
  }
}
