package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import de.captaingoldfish.scim.sdk.client.ScimClientConfig;
import de.captaingoldfish.scim.sdk.client.ScimRequestBuilder;
import de.captaingoldfish.scim.sdk.common.constants.enums.Comparator;
import de.captaingoldfish.scim.sdk.common.constants.enums.PatchOp;
import de.captaingoldfish.scim.sdk.common.resources.EnterpriseUser;
import de.captaingoldfish.scim.sdk.common.resources.Group;
import de.captaingoldfish.scim.sdk.common.resources.ServiceProvider;
import de.captaingoldfish.scim.sdk.common.resources.User;
import de.captaingoldfish.scim.sdk.common.resources.complex.Name;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.file.Files;
import java.util.Map;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** Another source pushes its people by SCIM: by plain HTTP, and by somebody else's client. */
@AnyDay
@Order(12)
class PushTest {
  private static final String SOURCE =
      """
      source: hr-cloud
      name: HR cloud
      mode: changes
      push: hr-cloud
      worker: urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:employeeNumber
      columns:
        userType:
          fact: kind
          values: {Employee: employee, Contractor: seasonal}
        name.givenName: given
        name.familyName: family
        title: jobTitle
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department: department
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:division: location
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:costCenter: start
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:organization: end
      """;

  private static String token;

  private static String base() {
    return Demo.running().url() + "/scim/v2";
  }

  private static HttpRequest.Builder door(String path) {
    return HttpRequest.newBuilder(URI.create(base() + path))
        .header("Authorization", "Bearer " + token)
        .header("Content-Type", "application/scim+json");
  }

  private static User user(String number, String given, String department) {
    return User.builder()
        .userName(number.toLowerCase() + "@hr.skerryline.example")
        .userType("Employee")
        .title("deckhand")
        .name(Name.builder().givenName(given).familyName("Quoyness").build())
        .active(true)
        .enterpriseUser(
            EnterpriseUser.builder()
                .employeeNumber(number)
                .department(department)
                .division("Westholm")
                .costCenter("2026-01-05")
                .build())
        .build();
  }

  @Test
  @Order(1)
  void a_client_of_its_own_source_and_nothing_else_is_let_in() throws IOException {
    var file = Files.writeString(Files.createTempFile("source", ".yaml"), SOURCE);
    Demo.glenmoor("define", "load", file.toString());
    var secret = Files.createTempFile("client", ".secret");
    Files.writeString(secret, "a client's own long secret");
    Demo.glenmoor(
        "sign-ins",
        "set",
        "hr-cloud",
        "--password-stays",
        "--password-file",
        secret.toString(),
        "--duty",
        "source-client");
    var kept = Files.createTempFile("client", ".token");
    Demo.glenmoor(
        "sign-ins",
        "token",
        "hr-cloud",
        kept.toString(),
        "--days",
        "30",
        "--password-file",
        secret.toString());
    token = Files.readString(kept).strip();
    var config = Demo.http(door("/ServiceProviderConfig").GET());
    assertThat(config.statusCode()).as(config.body()).isEqualTo(200);
    assertThat(config.headers().firstValue("Content-Type").orElse("")).contains("scim+json");
    var people =
        Demo.http(
            HttpRequest.newBuilder(URI.create(Demo.running().url() + "/api/v1/feeds"))
                .header("Authorization", "Bearer " + token));
    assertThat(people.statusCode()).isEqualTo(403);
    var nobody = Demo.http(HttpRequest.newBuilder(URI.create(base() + "/Users")));
    assertThat(nobody.statusCode()).isEqualTo(401);
  }

  @Test
  @Order(2)
  void another_makers_client_pushes_a_joiner_a_move_and_a_leaver() {
    var settings =
        ScimClientConfig.builder().httpHeaders(Map.of("Authorization", "Bearer " + token)).build();
    try (var client = new ScimRequestBuilder(base(), settings)) {
      var config = client.get(ServiceProvider.class, "/ServiceProviderConfig", null).sendRequest();
      assertThat(config.isSuccess()).as(config.getResponseBody()).isTrue();
      var made =
          client
              .create(User.class, "/Users")
              .setResource(user("H-0001", "Tormod", "Deck & Navigation"))
              .sendRequest();
      assertThat(made.isSuccess()).as(made.getResponseBody()).isTrue();
      var id = made.getResource().getId().orElseThrow();
      Demo.allConfirmed();
      assertThat(Demo.groups("H-0001")).contains("crew", "deck-navigation", "at-westholm");
      var found =
          client
              .list(User.class, "/Users")
              .filter("userName", Comparator.EQ, "h-0001@HR.skerryline.example")
              .build()
              .get()
              .sendRequest();
      assertThat(found.getResource().getTotalResults()).isEqualTo(1);
      var moved =
          client
              .patch(User.class, "/Users", id)
              .addOperation()
              .op(PatchOp.REPLACE)
              .path("urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department")
              .value("Engine Room")
              .build()
              .sendRequest();
      assertThat(moved.isSuccess()).as(moved.getResponseBody()).isTrue();
      Demo.allConfirmed();
      assertThat(Demo.groups("H-0001")).contains("engine-room").doesNotContain("deck-navigation");
      var gone = client.delete(User.class, "/Users", id).sendRequest();
      assertThat(gone.isSuccess()).as(gone.getResponseBody()).isTrue();
      Demo.allConfirmed();
      assertThat(Demo.locked("H-0001")).isTrue();
      assertThat(Demo.groups("H-0001")).isEmpty();
    }
  }

  @Test
  @Order(3)
  void groups_and_schemas_are_read_and_no_group_is_written() throws IOException {
    var settings =
        ScimClientConfig.builder().httpHeaders(Map.of("Authorization", "Bearer " + token)).build();
    try (var client = new ScimRequestBuilder(base(), settings)) {
      var made =
          client
              .create(User.class, "/Users")
              .setResource(user("H-0009", "Ailsa", "Freight"))
              .sendRequest();
      assertThat(made.isSuccess()).as(made.getResponseBody()).isTrue();
      var file =
          Files.writeString(
              Files.createTempFile("team", ".yaml"),
              "team: freight-desk\nname: Freight desk\nmembers: [H-0009, W-01010]\n");
      Demo.glenmoor("define", "load", file.toString());
      var groups =
          client
              .list(Group.class, "/Groups")
              .filter("displayName", Comparator.EQ, "Freight desk")
              .build()
              .get()
              .sendRequest();
      assertThat(groups.isSuccess()).as(groups.getResponseBody()).isTrue();
      var group = groups.getResource().getListedResources().getFirst();
      assertThat(group.getMembers())
          .extracting(each -> each.getValue().orElseThrow())
          .containsExactly(made.getResource().getId().orElseThrow());
      var gone = client.delete(Group.class, "/Groups", "freight-desk").sendRequest();
      assertThat(gone.getHttpStatus()).isEqualTo(403);
      assertThat(gone.getErrorResponse().getDetail().orElse("")).contains("not written");
      var without =
          client.list(Group.class, "/Groups").excludedAttributes("members").post().sendRequest();
      assertThat(without.isSuccess()).as(without.getResponseBody()).isTrue();
      assertThat(without.getResponseBody()).contains("Freight desk").doesNotContain("members");
      var names =
          client
              .list(User.class, "/Users")
              .attributes("userName")
              .filter("userName", Comparator.SW, "h-0009")
              .build()
              .post()
              .sendRequest();
      assertThat(names.isSuccess()).as(names.getResponseBody()).isTrue();
      assertThat(names.getResource().getTotalResults()).isEqualTo(1);
      assertThat(names.getResponseBody())
          .contains("h-0009@hr.skerryline.example")
          .doesNotContain("Ailsa", "lastModified");
      var types = Demo.http(door("/ResourceTypes").GET()).body();
      assertThat(types).contains("\"/Users\"", "\"/Groups\"");
      var schema = Demo.http(door("/Schemas/urn:ietf:params:scim:schemas:core:2.0:User").GET());
      assertThat(schema.statusCode()).isEqualTo(200);
      assertThat(schema.body()).contains("addresses").doesNotContain("password");
      var number = Demo.http(door("/Users?startIndex=first").GET());
      assertThat(number.statusCode()).isEqualTo(400);
      assertThat(number.body()).contains("urn:ietf:params:scim:api:messages:2.0:Error");
    }
  }

  @Test
  @Order(4)
  void what_is_wrong_is_told_in_scims_own_words() {
    var bad =
        Demo.http(
            door("/Users")
                .POST(
                    HttpRequest.BodyPublishers.ofString(
                        user("H-0002", "Ada", "Freight")
                            .toString()
                            .replace("2026-01-05", "soon"))));
    assertThat(bad.statusCode()).isEqualTo(400);
    assertThat(bad.body())
        .contains("urn:ietf:params:scim:api:messages:2.0:Error", "costCenter", "soon");
    var filter = Demo.http(door("/Users?filter=userName%20is%20x").GET());
    assertThat(filter.statusCode()).isEqualTo(400);
    assertThat(filter.body()).contains("invalidFilter");
    var both =
        Demo.http(
            door("/Users?attributes=userName&excludedAttributes=name")
                .POST(
                    HttpRequest.BodyPublishers.ofString(
                        user("H-0004", "Unn", "Freight").toString())));
    assertThat(both.statusCode()).isEqualTo(400);
    assertThat(both.body()).contains("cannot both be given");
    assertThat(Demo.http(door("/Users?filter=userName%20sw%20%22h-0004%22").GET()).body())
        .as("a bad request makes nobody")
        .contains("\"totalResults\":0");
    var missing = Demo.http(door("/Users/nobody").GET());
    assertThat(missing.statusCode()).isEqualTo(404);
    assertThat(missing.body()).contains("\"status\":\"404\"");
    var made =
        Demo.http(
            door("/Users")
                .POST(
                    HttpRequest.BodyPublishers.ofString(
                        user("H-0003", "Bo", "Freight").toString())));
    var location = made.headers().firstValue("Location").orElseThrow();
    var version = made.headers().firstValue("ETag").orElseThrow();
    var read =
        Demo.http(door(location.substring(base().length())).header("If-None-Match", version).GET());
    assertThat(read.statusCode()).isEqualTo(304);
    var stale =
        Demo.http(
            door(location.substring(base().length()))
                .header("If-Match", "W/\"77\"")
                .PUT(
                    HttpRequest.BodyPublishers.ofString(
                        user("H-0003", "Bo", "Terminals").toString())));
    assertThat(stale.statusCode()).as(stale.body()).isEqualTo(412);
  }
}
