package glenmoor.connect.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What of a resource a client reads that wants less than all (RFC 7644, section 3.9). */
class ScimPartsTest {
  private static final String ENTERPRISE = ScimPerson.ENTERPRISE;
  private static final String OWN = "urn:example:skerryline:Worker";
  private static final ScimPerson UNA =
      ScimPerson.read(
          """
          {"schemas": ["%s", "%s"], "userName": "una@hr.example", "title": "mate",
           "name": {"givenName": "Una", "familyName": "Rysa"},
           "emails": [{"value": "una@skerryline.example", "type": "work"}, {"value": "una@home.example"}],
           "%s": {"employeeNumber": "W-1", "department": "Deck", "manager": {"value": "7"}},
           "%s": {"firstDay": "2026-01-01"}}
          """
              .formatted(ScimPerson.USER, ENTERPRISE, ENTERPRISE, OWN));

  private static JsonNode shown(@Nullable String only, @Nullable String without) {
    return JsonMapper.shared()
        .readTree(
            UNA.shown("1", 3, Instant.EPOCH, Instant.EPOCH, "here", ScimParts.of(only, without)));
  }

  /** What is left, in the order of its names; what is always there is not told. */
  private static String left(JsonNode node) {
    if (!node.isObject()) {
      return node.isArray() ? "[" + left(node.get(0)) + "]" : "";
    }
    var text = new StringBuilder();
    node.propertyNames().stream()
        .filter(name -> !name.equals("id") && !name.equals("schemas"))
        .sorted()
        .forEach(name -> text.append(name).append(left(node.get(name))).append(' '));
    return "(" + text.toString().strip() + ")";
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          userName                | (userName)
          USERNAME, title         | (title userName)
          name.givenName          | (name(givenName))
          name.nickname           | ()
          emails.type             | (emails[(type)])
          meta.version            | (meta(version))
          password                | ()
          userName.length         | ()
          urn:ietf:params:scim:schemas:core:2.0:User:name.familyName | (name(familyName))
          urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department | (urn:ietf:params:scim:schemas:extension:enterprise:2.0:User(department))
          urn:ietf:params:scim:schemas:extension:enterprise:2.0:user:manager.value | (urn:ietf:params:scim:schemas:extension:enterprise:2.0:User(manager(value)))
          urn:example:skerryline:Worker | (urn:example:skerryline:Worker(firstDay))
          urn:example:skerryline:Worker:lastDay | ()
          urn:example:nobody:Worker:lastDay | ()
          """)
  void what_is_named_and_no_more(String names, String left) {
    var shown = shown(names, null);
    assertThat(left(shown)).isEqualTo(left);
    assertThat(shown.path("id").asString()).isEqualTo("1");
    assertThat(shown.path("schemas")).hasSize(2);
  }

  @Test
  void what_is_left_out_and_nothing_else() {
    var all = left(shown(null, null));
    assertThat(left(shown(null, "emails"))).isEqualTo(all.replace("emails[(type value)] ", ""));
    assertThat(left(shown(null, "emails.type"))).isEqualTo(all.replace("(type value)", "(value)"));
    assertThat(left(shown(null, ENTERPRISE + ":department")))
        .isEqualTo(all.replace("department ", ""));
    assertThat(left(shown(null, OWN))).isEqualTo(all.replace(" " + OWN + "(firstDay)", ""));
    assertThat(shown(null, "id, schemas, nothing")).isEqualTo(shown(null, null));
    assertThat(shown("", " , ")).as("nothing said").isEqualTo(shown(null, null));
  }

  @Test
  void what_is_kept_stays_whole() {
    var before = UNA.kept();
    shown("userName", null);
    shown(null, "name.givenName,emails," + ENTERPRISE);
    assertThat(UNA.kept()).isEqualTo(before);
  }

  @Test
  void one_or_the_other() {
    assertThatThrownBy(() -> ScimParts.of("userName", "title"))
        .isInstanceOf(ScimPerson.Unusable.class)
        .hasMessageContaining("cannot both be given");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "name.givenName.first",
        "emails[type eq \"work\"]",
        "user name",
        ".",
        "name.",
        "userName;",
        "urn:ietf:params:scim:schemas:core:2.0:User:"
      })
  void what_is_no_name_is_said_to_be_none(String name) {
    assertThatThrownBy(() -> ScimParts.of(name, null))
        .isInstanceOfSatisfying(
            ScimPerson.Unusable.class,
            unusable -> assertThat(unusable.type()).isEqualTo("invalidPath"))
        .hasMessageContaining(name);
  }

  @Test
  void a_search_says_in_a_body_what_an_address_says() {
    var query =
        ScimQuery.search(
            """
            {"schemas": ["urn:ietf:params:scim:api:messages:2.0:SearchRequest"], "filter": "title pr",
             "sortBy": "userName", "sortOrder": "descending", "startIndex": -3, "count": 9999,
             "excludedAttributes": ["name"]}
            """);
    assertThat(query.descending()).isTrue();
    assertThat(query.sortBy()).isEqualTo("userName");
    assertThat(query.start()).isEqualTo(1);
    assertThat(query.count()).isEqualTo(ScimQuery.MOST);
    assertThat(UNA.isWanted(query.filter(), "1", 1, Instant.EPOCH, Instant.EPOCH)).isTrue();
    assertThat(UNA.shown("1", 1, Instant.EPOCH, Instant.EPOCH, "here", query.parts()))
        .doesNotContain("givenName");
    var oneText =
        ScimQuery.search(
            """
            {"schemas": ["urn:ietf:params:scim:api:messages:2.0:SearchRequest"], "filter": null,
             "ExcludedAttributes": "name, title"}
            """);
    assertThat(UNA.shown("1", 1, Instant.EPOCH, Instant.EPOCH, "here", oneText.parts()))
        .as("as some clients write it")
        .doesNotContain("givenName", "mate");
    var nothing =
        ScimQuery.search(
            "{\"schemas\": [\"urn:ietf:params:scim:api:messages:2.0:SearchRequest\"]}");
    assertThat(nothing.filter()).isNull();
    assertThat(nothing.start()).isEqualTo(1);
    assertThat(nothing.count()).isEqualTo(100);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "[]",
        "{",
        "{}",
        "null",
        "{\"schemas\": [\"urn:ietf:params:scim:api:messages:2.0:ListResponse\"]}",
        "{\"schemas\": [\"urn:ietf:params:scim:api:messages:2.0:SearchRequest\"], \"count\": \"many\"}",
        "{\"schemas\": [\"urn:ietf:params:scim:api:messages:2.0:SearchRequest\"], \"sortOrder\": \"upwards\"}",
        "{\"schemas\": [\"urn:ietf:params:scim:api:messages:2.0:SearchRequest\"], \"filter\": \"title\"}"
      })
  void what_is_no_search_is_said_to_be_none(String body) {
    assertThatThrownBy(() -> ScimQuery.search(body)).isInstanceOf(ScimPerson.Unusable.class);
  }
}
