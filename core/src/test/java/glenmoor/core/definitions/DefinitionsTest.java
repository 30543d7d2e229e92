package glenmoor.core.definitions;

import static glenmoor.core.SkerryLine.documents;
import static glenmoor.core.SkerryLine.map;
import static glenmoor.core.SkerryLine.read;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.applications.ApplicationKind;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class DefinitionsTest {
  private static final String PLACE = "skerry.yaml line " + (documents().size() + 1);

  private static List<String> problems(Map<String, Object> extra) {
    var documents = documents();
    documents.add(extra);
    return read(documents).problems().stream().map(Problem::toString).toList();
  }

  @Test
  void what_is_defined_can_be_computed_with() {
    var catalogue = SkerryLine.catalogue();
    assertThat(catalogue.application("directory").lifecycle().afterHold())
        .isEqualTo(AfterHold.DELETE);
    assertThat(catalogue.application("directory").lifecycle().readyDaysAhead()).isEqualTo(7);
    assertThat(catalogue.birthrights()).hasSize(3);
  }

  @Test
  void an_application_is_planned_after_those_whose_names_it_uses() {
    assertThat(SkerryLine.catalogue().applications())
        .extracting(Application::key)
        .containsExactly("directory", "chartshare");
  }

  @Test
  void a_document_must_say_what_it_defines() {
    assertThat(problems(map("pakage", "x")).getFirst())
        .startsWith(PLACE + ": A document begins with what it defines");
  }

  @Test
  void a_misspelt_key_is_found_with_what_can_stand_there() {
    assertThat(problems(map("package", "x", "entitlement", List.of())))
        .containsExactly(
            PLACE
                + ": entitlement means nothing here; what can stand here is entitlements, name, package, portfolio, purpose, retired, tags.");
  }

  @Test
  void what_is_not_there_cannot_be_referred_to() {
    assertThat(problems(map("package", "x", "entitlements", List.of("directory/nowhere"))))
        .singleElement()
        .asString()
        .contains("no entitlement “directory/nowhere”");
    assertThat(problems(map("birthright", "x", "package", "nowhere", "where", "true")))
        .singleElement()
        .asString()
        .contains("no package “nowhere”");
  }

  @Test
  void a_bad_condition_is_found_with_its_place() {
    assertThat(problems(map("birthright", "x", "package", "deck", "where", "person.grad > 3")))
        .singleElement()
        .asString()
        .contains("person.grad > 3")
        .contains("at its character");
  }

  @Test
  void everything_wrong_is_said_at_once() {
    assertThat(
            problems(
                map("birthright", "x", "package", "nowhere", "where", "person.x", "grace", "soon")))
        .hasSize(3);
  }

  @Test
  void a_fact_with_a_meaning_of_its_own_must_have_its_type() {
    assertThat(problems(map("fact", "start", "type", "text")))
        .anySatisfy(problem -> assertThat(problem).contains("must be a date"));
  }

  @Test
  void two_applications_cannot_wait_for_each_other() {
    var account = map("name", "person.worker");
    var documents = documents();
    documents.add(
        map("application", "a", "connector", "scim", "account", account, "after", List.of("b")));
    documents.add(
        map("application", "b", "connector", "scim", "account", account, "after", List.of("a")));
    assertThat(read(documents).problems()).hasSize(2);
  }

  private static Definition application(String limit, String name) {
    var plain =
        map("application", "a", "account", map("name", name), "parallel", limit, "name", limit);
    var tree = (Tree.Fields) Tree.of(plain, new Tree.Place("x " + limit, 0));
    return new Definition(new ApplicationKind(), "a", tree);
  }

  @Test
  void the_way_to_an_application_changes_nobodys_plan() {
    var before = application("8", "person.worker");
    assertThat(application("8", "person.worker").saysAs(before)).isTrue();
    assertThat(application("0", "person.worker").saysAs(before)).isFalse();
    assertThat(application("0", "person.worker").plansLike(before)).isTrue();
    assertThat(application("8", "person.family").plansLike(before)).isFalse();
  }

  @Test
  void a_tree_kept_as_plain_values_gives_the_same_tree() {
    var place = new Tree.Place("x", 0);
    var plain = map("package", "x", "entitlements", List.of("a/b", "c/d"), "more", map("k", "v"));
    assertThat(Tree.of(plain, place).plain()).isEqualTo(plain);
  }

  @Test
  void what_a_connector_cannot_do_is_refused_where_it_is_asked_for() {
    assertThat(
            problems(
                map(
                    "application",
                    "plain",
                    "connector",
                    "scim",
                    "settings",
                    map("url", "x", "password", "in the open"),
                    "account",
                    map("name", "'x'", "rename", "on-change", "container", "'y'"),
                    "care",
                    map("after-hold", "delete"))))
        .hasSize(4)
        .anyMatch(each -> each.contains("scim cannot rename accounts"))
        .anyMatch(each -> each.contains("scim cannot keep accounts in containers"))
        .anyMatch(each -> each.contains("scim cannot delete accounts"))
        .anyMatch(each -> each.contains("scim has no setting “password”; there are url"));
    assertThat(problems(map("entitlement", "chartshare/pilot", "kind", "role")))
        .singleElement()
        .asString()
        .contains("scim of chartshare cannot give roles");
    assertThat(
            problems(map("application", "x", "connector", "pigeon", "account", map("name", "'x'"))))
        .anyMatch(each -> each.contains("ldap, scim"));
  }
}
