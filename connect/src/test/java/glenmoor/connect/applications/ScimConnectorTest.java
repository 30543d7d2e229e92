package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.connect.applications.Connector.Seen;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.standins.applications.ScimApplication;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Over real HTTP, against the stand-in that ships with us. */
class ScimConnectorTest {
  @TempDir private Path directory;
  private ScimApplication application;
  private Connector connector;

  @BeforeEach
  void start() throws IOException {
    Files.writeString(directory.resolve("token"), "a token\n");
    application = new ScimApplication("chartshare", directory, 0, "a token", 3, List.of("Charts"));
    connector = connector("token");
  }

  private Connector connector(String token) {
    return connector(token, "");
  }

  private Connector connector(String token, String lastUsed) {
    return Testbed.open(
        Testbed.application(
            "scim",
            Map.of(
                "url",
                "http://127.0.0.1:" + application.port() + "/scim/v2",
                "token-file",
                directory.resolve(token).toString(),
                "last-used",
                lastUsed),
            "displayName",
            "name.givenName",
            "emails"));
  }

  @AfterEach
  void stop() {
    connector.close();
    application.close();
  }

  private static Target target(String worker, String nativeId, boolean triedBefore) {
    return Testbed.target(worker, worker.toLowerCase(), "", nativeId, triedBefore);
  }

  private Outcome carryOut(ProvisioningCommand command) {
    return connector.carryOut(command, target("W-1", "", false), sealed -> sealed);
  }

  private void confirmed(ProvisioningCommand command) {
    assertThat(carryOut(command)).isInstanceOf(Outcome.Confirmed.class);
  }

  private static ProvisioningCommand.Create create(String name, AccountState state) {
    return new ProvisioningCommand.Create(
        name,
        "",
        Map.of("displayName", "Una Kerrow", "name.givenName", "Una", "emails", "una@x.example"),
        state);
  }

  private void failureMode(String failureMode) throws Exception {
    send("/control", failureMode, "POST");
  }

  private JsonNode send(String path, String body, String method) throws Exception {
    var request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + application.port() + path))
            .header("Authorization", "Bearer a token")
            .method(method, BodyPublishers.ofString(body))
            .build();
    try (var http = HttpClient.newHttpClient()) {
      return JsonMapper.shared().readTree(http.send(request, BodyHandlers.ofString()).body());
    }
  }

  private JsonNode user() throws Exception {
    var found = send("/scim/v2/Users?filter=externalId%20eq%20%22W-1%22", "", "GET");
    assertThat(found.path("totalResults").asInt()).isEqualTo(1);
    return found.path("Resources").get(0);
  }

  @Test
  void an_account_is_created_with_its_mapped_attributes() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var user = user();
    assertThat(user.path("userName").asString()).isEqualTo("una");
    assertThat(user.path("name").path("givenName").asString()).isEqualTo("Una");
    assertThat(user.path("emails").get(0).path("value").asString()).isEqualTo("una@x.example");
    assertThat(user.path("active").asBoolean()).isTrue();
  }

  @Test
  void a_second_try_after_a_crash_makes_no_second_account() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    assertThat(
            connector.carryOut(
                create("una", AccountState.ENABLED), target("W-1", "", true), sealed -> sealed))
        .isInstanceOf(Outcome.Confirmed.class);
    assertThat(user().path("userName").asString()).isEqualTo("una");
  }

  @Test
  void an_account_that_carries_the_worker_number_is_adopted() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    assertThat(carryOut(create("una", AccountState.ENABLED)))
        .isInstanceOfSatisfying(
            Outcome.Confirmed.class, done -> assertThat(done.note()).contains("adopted"));
  }

  @Test
  void a_user_that_another_account_has_is_not_adopted() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var another = new Target("W-1", "other", "", "", "", true, false, null, id -> true);
    assertThat(connector.carryOut(create("other", AccountState.ENABLED), another, sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("somebody else's"));
    assertThat(user().path("userName").asString()).isEqualTo("una");
  }

  @Test
  void a_name_that_a_stranger_has_is_refused() {
    confirmed(create("una", AccountState.ENABLED));
    assertThat(
            connector.carryOut(
                create("una", AccountState.ENABLED), target("W-2", "", false), sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("is taken"));
  }

  @Test
  void attributes_change_and_go_away() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Update("oona", "", Map.of("displayName", "Oona Kerrow")));
    assertThat(user().path("userName").asString()).isEqualTo("oona");
    assertThat(user().path("displayName").asString()).isEqualTo("Oona Kerrow");
    assertThat(user().has("emails")).isFalse();
  }

  @Test
  void an_account_is_shut_and_opened() throws Exception {
    confirmed(create("una", AccountState.DISABLED));
    assertThat(user().path("active").asBoolean()).isFalse();
    confirmed(new ProvisioningCommand.Enable());
    assertThat(user().path("active").asBoolean()).isTrue();
    confirmed(new ProvisioningCommand.Disable());
    assertThat(user().path("active").asBoolean()).isFalse();
  }

  @Test
  void groups_and_roles_are_given_and_taken_and_twice_is_the_same_as_once() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    for (var kind : List.of("group", "role")) {
      var add = new ProvisioningCommand.Add("chartshare/charts", "Charts", kind);
      confirmed(add);
      confirmed(add);
      var remove = new ProvisioningCommand.Remove("chartshare/charts", "Charts", kind);
      confirmed(remove);
      confirmed(remove);
    }
    confirmed(new ProvisioningCommand.Add("chartshare/charts", "Charts", "group"));
    var group = send("/scim/v2/Groups?filter=displayName%20eq%20%22Charts%22", "", "GET");
    assertThat(group.path("Resources").get(0).path("members").size()).isEqualTo(1);
    assertThat(user().path("roles").size()).isZero();
  }

  @Test
  void a_group_that_is_not_there_is_refused() {
    confirmed(create("una", AccountState.ENABLED));
    assertThat(carryOut(new ProvisioningCommand.Add("chartshare/x", "No such group", "group")))
        .isInstanceOf(Outcome.Refused.class);
  }

  @Test
  void deleting_twice_is_the_same_as_once() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Delete());
    assertThat(carryOut(new ProvisioningCommand.Delete())).isInstanceOf(Outcome.Gone.class);
    assertThat(send("/scim/v2/Users", "", "GET").path("totalResults").asInt()).isZero();
  }

  @Test
  void a_full_application_refuses_in_its_own_words() {
    for (var i = 1; i <= 3; i++) {
      assertThat(
              connector.carryOut(
                  create("u" + i, AccountState.ENABLED),
                  target("W-" + i, "", false),
                  sealed -> sealed))
          .isInstanceOf(Outcome.Confirmed.class);
    }
    assertThat(
            connector.carryOut(
                create("u4", AccountState.ENABLED), target("W-4", "", false), sealed -> sealed))
        .isEqualTo(new Outcome.Refused("seat limit reached: 3 of 3 seats are used"));
  }

  @Test
  void a_busy_application_is_asked_again_when_it_says() throws Exception {
    failureMode("{\"mode\":\"busy\"}");
    assertThat(carryOut(create("una", AccountState.ENABLED)))
        .isEqualTo(new Outcome.NotNow("Too many requests.", Optional.of(Duration.ofSeconds(2))));
  }

  @Test
  void a_broken_application_is_asked_again_and_one_that_is_down_is_unreachable() throws Exception {
    failureMode("{\"mode\":\"broken\"}");
    assertThat(carryOut(create("una", AccountState.ENABLED))).isInstanceOf(Outcome.NotNow.class);
    failureMode("{\"mode\":\"down\"}");
    assertThat(carryOut(create("una", AccountState.ENABLED)))
        .isInstanceOf(Outcome.Unreachable.class);
    assertThat(connector.test().well()).isFalse();
  }

  @Test
  void a_yes_that_was_not_meant_is_not_confirmed() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    failureMode("{\"mode\":\"forget\"}");
    assertThat(carryOut(new ProvisioningCommand.Disable()))
        .isInstanceOfSatisfying(
            Outcome.Unproven.class, no -> assertThat(no.reason()).contains("read back unchanged"));
    assertThat(carryOut(new ProvisioningCommand.Delete()))
        .isInstanceOfSatisfying(
            Outcome.Unproven.class, no -> assertThat(no.reason()).contains("still there"));
  }

  @Test
  void a_page_for_what_is_not_there_proves_nothing() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var id = user().path("id").asString();
    failureMode("{\"mode\":\"not-found-page\"}");
    for (var command :
        List.of(new ProvisioningCommand.Delete(), new ProvisioningCommand.Disable())) {
      assertThat(connector.carryOut(command, target("W-1", id, false), sealed -> sealed))
          .isInstanceOfSatisfying(
              Outcome.NotNow.class, no -> assertThat(no.reason()).contains("not SCIM"));
    }
  }

  @Test
  void one_that_answers_with_another_user_than_was_asked_for_is_not_believed() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var id = user().path("id").asString();
    connector.carryOut(
        create("bo", AccountState.ENABLED), target("W-2", "", false), sealed -> sealed);
    failureMode("{\"mode\":\"another\"}");
    assertThat(
            connector.carryOut(
                new ProvisioningCommand.Delete(), target("W-1", id, false), sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.NotNow.class, no -> assertThat(no.reason()).contains("answered with another"));
    failureMode("{\"mode\":\"well\"}");
    assertThat(user().path("id").asString()).isEqualTo(id);
  }

  @Test
  void a_wrong_token_is_our_own_and_no_refusal() throws Exception {
    Files.writeString(directory.resolve("wrong"), "another");
    try (var wrong = connector("wrong")) {
      assertThat(
              wrong.carryOut(
                  new ProvisioningCommand.Enable(), target("W-1", "", false), sealed -> sealed))
          .isInstanceOf(Outcome.WrongCredentials.class);
    }
  }

  @Test
  void all_accounts_are_listed_over_several_pages() throws Exception {
    for (var i = 0; i < 230; i++) {
      var command = create("u" + i, AccountState.DISABLED);
      connector.carryOut(command, target("W-" + i, "", false), sealed -> sealed);
    }
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    assertThat(seen).extracting(Seen::worker).doesNotHaveDuplicates().hasSize(230);
    failureMode("{\"mode\":\"down\"}");
    assertThatThrownBy(() -> connector.list(seen::add)).isInstanceOf(Connector.CannotRead.class);
  }

  @Test
  void an_application_tells_of_the_last_use_in_an_attribute_of_its_own() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var id = user().path("id").asString();
    try (var telling = connector("token", "nickName")) {
      for (var told : List.of("", "2027-02-14T08:15:00Z", "yesterday")) {
        send(
            "/scim/v2/Users/" + id,
            "{\"schemas\":[\"urn:ietf:params:scim:api:messages:2.0:PatchOp\"],\"Operations\":[{\"op\":\"replace\",\"path\":\"nickName\",\"value\":\"%s\"}]}"
                .formatted(told),
            "PATCH");
        var seen = new ArrayList<Seen>();
        telling.list(seen::add);
        assertThat(seen.getFirst().lastUsed())
            .as(told)
            .isEqualTo(told.endsWith("Z") ? Instant.parse(told) : null);
      }
    }
  }

  @Test
  void what_the_application_keeps_survives_its_restart() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("chartshare/charts", "Charts", "group"));
    application.close();
    application = new ScimApplication("chartshare", directory, 0, "a token", 3, List.of("Charts"));
    assertThat(user().path("userName").asString()).isEqualTo("una");
    var group = send("/scim/v2/Groups", "", "GET");
    assertThat(group.path("Resources").get(0).path("members").size()).isEqualTo(1);
  }

  @Test
  void one_that_ignores_filters_gives_nobody_elses_user() throws Exception {
    for (var i = 0; i < 130; i++) {
      var command = create("x" + i, AccountState.DISABLED);
      connector.carryOut(command, target("X-" + i, "", false), sealed -> sealed);
    }
    confirmed(create("una", AccountState.DISABLED));
    failureMode("{\"mode\":\"ignore-filters\"}");
    var stranger = target("W-9", "", false);
    for (var command :
        List.of(
            new ProvisioningCommand.Delete(),
            new ProvisioningCommand.Disable(),
            new ProvisioningCommand.Remove("c/charts", "Charts", "group"))) {
      assertThat(connector.carryOut(command, stranger, sealed -> sealed))
          .as(command.word())
          .isInstanceOf(Outcome.Gone.class);
    }
    confirmed(new ProvisioningCommand.Enable());
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    confirmed(new ProvisioningCommand.Delete());
    failureMode("{\"mode\":\"well\"}");
    assertThat(send("/scim/v2/Users?count=500", "", "GET").path("totalResults").asInt())
        .isEqualTo(130);
  }

  @Test
  void one_that_comes_to_ignore_filters_has_its_groups_read_from_then_on() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var add = new ProvisioningCommand.Add("c/charts", "Charts", "group");
    var remove = new ProvisioningCommand.Remove("c/charts", "Charts", "group");
    confirmed(add);
    confirmed(remove);
    confirmed(add);
    failureMode("{\"mode\":\"ignore-filters\"}");
    confirmed(remove);
    confirmed(add);
    failureMode("{\"mode\":\"well\"}");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "ldaps://chartshare.skerry.example/scim",
        "https://chartshare.skerry.example/scim?tenant=1",
        "https://chartshare.skerry.example/scim#users",
        "https://chartshare.skerry.example:scim",
      })
  void an_address_that_nothing_can_be_asked_of_is_a_wrong_setting(String url) {
    var elsewhere =
        Testbed.application(
            "scim", Map.of("url", url, "token-file", directory.resolve("token").toString()));
    assertThatThrownBy(() -> Testbed.open(elsewhere)).isInstanceOf(Settings.BadSetting.class);
  }

  @Test
  void only_a_scim_answer_is_an_answer() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("c/admin", "admin", "role"));
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    for (var mode : List.of("sign-in-page", "empty")) {
      failureMode("{\"mode\":\"" + mode + "\"}");
      for (var command :
          List.of(
              new ProvisioningCommand.Remove("c/admin", "admin", "role"),
              new ProvisioningCommand.Remove("c/charts", "Charts", "group"),
              new ProvisioningCommand.Disable(),
              new ProvisioningCommand.Delete(),
              create("una", AccountState.ENABLED))) {
        assertThat(carryOut(command))
            .as(mode + " " + command.word())
            .isInstanceOfSatisfying(
                Outcome.NotNow.class, no -> assertThat(no.reason()).contains("not SCIM"));
      }
      assertThat(connector.test().well()).isFalse();
    }
    failureMode("{\"mode\":\"well\"}");
    assertThat(user().path("roles").size()).isEqualTo(1);
    assertThat(user().path("active").asBoolean()).isTrue();
  }

  @Test
  void an_answer_that_never_ends_is_given_up() throws Exception {
    failureMode("{\"mode\":\"half\"}");
    var before = System.nanoTime();
    assertThat(carryOut(new ProvisioningCommand.Disable())).isInstanceOf(Outcome.Unreachable.class);
    assertThat(Duration.ofNanos(System.nanoTime() - before)).isLessThan(Duration.ofSeconds(14));
  }

  @Test
  void a_change_taken_for_an_addition_is_not_repeated_but_put_right() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    failureMode("{\"mode\":\"add-on-replace\"}");
    confirmed(
        new ProvisioningCommand.Update(
            "una", "", Map.of("displayName", "Una Kerrow", "emails", "una.kerrow@x.example")));
    assertThat(user().path("emails")).hasSize(1);
    assertThat(user().path("emails").get(0).path("value").asString())
        .isEqualTo("una.kerrow@x.example");
  }

  @Test
  void values_of_a_list_that_are_not_ours_stay() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var id = user().path("id").asString();
    send(
        "/scim/v2/Users/" + id,
        "{\"schemas\":[\"urn:ietf:params:scim:api:messages:2.0:PatchOp\"],\"Operations\":[{\"op\":\"add\",\"path\":\"emails\",\"value\":[{\"value\":\"own@home.example\",\"type\":\"home\"}]}]}",
        "PATCH");
    confirmed(
        new ProvisioningCommand.Update(
            "una", "", Map.of("displayName", "U", "emails", "new@x.example")));
    assertThat(user().path("emails").findValuesAsString("value"))
        .containsExactlyInAnyOrder("new@x.example", "own@home.example");
  }

  @Test
  void one_without_patch_is_given_whole_resources() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    failureMode("{\"mode\":\"no-patch\"}");
    confirmed(new ProvisioningCommand.Disable());
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    confirmed(new ProvisioningCommand.Add("c/admin", "admin", "role"));
    confirmed(new ProvisioningCommand.Remove("c/charts", "Charts", "group"));
    confirmed(new ProvisioningCommand.Update("oona", "", Map.of("displayName", "Oona")));
    assertThat(user().path("userName").asString()).isEqualTo("oona");
    assertThat(user().path("roles").size()).isEqualTo(1);
    assertThat(connector.examine(List.of()).abilities())
        .anyMatch(each -> each.contains("no PATCH"));
  }

  @Test
  void one_that_does_not_filter_by_members_has_its_groups_read() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    failureMode("{\"mode\":\"no-member-filters\"}");
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    confirmed(new ProvisioningCommand.Remove("c/charts", "Charts", "group"));
    failureMode("{\"mode\":\"well\"}");
    var group = send("/scim/v2/Groups", "", "GET").path("Resources").get(0);
    assertThat(group.path("members").size()).isZero();
  }

  @Test
  void a_group_made_anew_under_another_id_is_found_again() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    var old = send("/scim/v2/Groups", "", "GET").path("Resources").get(0).path("id").asString();
    send("/scim/v2/Groups/" + old, "", "DELETE");
    send(
        "/scim/v2/Groups",
        "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:Group\"],\"displayName\":\"Charts\"}",
        "POST");
    confirmed(new ProvisioningCommand.Add("c/charts", "Charts", "group"));
    var group = send("/scim/v2/Groups", "", "GET").path("Resources").get(0);
    assertThat(group.path("id").asString()).isNotEqualTo(old);
    assertThat(group.path("members").size()).isEqualTo(1);
  }

  @Test
  void a_group_is_made_where_the_settings_say_so() throws Exception {
    confirmed(create("una", AccountState.ENABLED));
    var made =
        Testbed.open(
            Testbed.application(
                "scim",
                Map.of(
                    "url",
                    "http://127.0.0.1:" + application.port() + "/scim/v2",
                    "token-file",
                    directory.resolve("token").toString(),
                    "make",
                    "yes")));
    try (made) {
      assertThat(
              made.carryOut(
                  new ProvisioningCommand.Add("c/new", "New room", "group"),
                  target("W-1", "", false),
                  s -> s))
          .isInstanceOf(Outcome.Confirmed.class);
    }
    assertThat(send("/scim/v2/Groups", "", "GET").path("totalResults").asInt()).isEqualTo(2);
  }

  @Test
  void a_user_that_is_somebody_elses_by_now_is_left_alone() throws Exception {
    var made = (Outcome.Confirmed) carryOut(create("una", AccountState.ENABLED));
    var other = target("W-2", made.nativeId(), false);
    for (var command :
        List.of(
            new ProvisioningCommand.Delete(),
            new ProvisioningCommand.Update("x", "", Map.of()),
            new ProvisioningCommand.Add("c/a", "a", "role"))) {
      assertThat(connector.carryOut(command, other, sealed -> sealed))
          .isInstanceOfSatisfying(
              Outcome.Refused.class,
              no -> assertThat(no.reason()).contains("another worker number"));
    }
    assertThat(user().path("userName").asString()).isEqualTo("una");
  }

  @Test
  void waits_of_any_size_are_read_and_none_breaks_anything() throws Exception {
    for (var asked :
        List.of(
            "0",
            "999999999999",
            "Wed, 21 Oct 1999 07:28:00 GMT",
            "Fri, 31 Dec 9999 23:59:59 GMT",
            "soon")) {
      failureMode("{\"mode\":\"busy\",\"retryAfter\":\"" + asked + "\"}");
      assertThat(carryOut(create("una", AccountState.ENABLED)))
          .as(asked)
          .isInstanceOf(Outcome.NotNow.class);
    }
  }
}
