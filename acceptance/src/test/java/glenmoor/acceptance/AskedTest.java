package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitForSelectorState;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A deckhand needs the ticket desk at Westholm: he asks in the console, his manager agrees on a
 * phone and the steward in the chat; and it is gone when its time is over.
 */
@Order(13)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class AskedTest {
  private static final String TAM = "W-01012";
  private static final String EMRE = "W-01124";
  private static String request = "";

  private static LocalDate today() {
    var session = Demo.http(get("/api/v1/session", "isa")).body();
    return Instant.parse(JsonMapper.shared().readTree(session).path("now").asString())
        .atZone(ZoneId.of("Atlantic/Faroe"))
        .toLocalDate();
  }

  private static final Map<String, String> TOKENS = new TreeMap<>();

  private static String token(String login) {
    return TOKENS.computeIfAbsent(login, AskedTest::made);
  }

  private static String made(String login) {
    var body =
        JsonMapper.shared()
            .writeValueAsString(Map.of("login", login, "password", Demo.running().password(login)));
    var made =
        Demo.http(
            HttpRequest.newBuilder(URI.create(Demo.running().url() + "/api/v1/tokens"))
                .header("Content-Type", "application/json")
                .POST(BodyPublishers.ofString(body)));
    return JsonMapper.shared().readTree(made.body()).path("token").asString();
  }

  static HttpRequest.Builder to(String path, String login) {
    return HttpRequest.newBuilder(URI.create(Demo.running().url() + path))
        .header("Content-Type", "application/json")
        .header("Authorization", "Bearer " + token(login));
  }

  private static HttpRequest.Builder get(String path, String login) {
    return to(path, login).GET();
  }

  private static int post(String path, String login, String json) {
    return Demo.http(to(path, login).POST(BodyPublishers.ofString(json))).statusCode();
  }

  private static JsonNode asked() {
    return JsonMapper.shared()
        .readTree(Demo.http(get("/api/v1/requests/" + request, "tam")).body());
  }

  /** His roles in Quaybook, as long as his account there is open. */
  private static List<String> roles() {
    var user = Demo.user("quaybook", TAM);
    return user.path("active").asBoolean()
        ? user.path("roles").valueStream().map(each -> each.path("value").asString()).toList()
        : List.of();
  }

  /** Whether he is in the group of Westholm, by Chartshare's own word. */
  private static boolean seesWestholm() {
    var at = Demo.running().places().path("standins").path("chartshare");
    var groups =
        Demo.http(
            HttpRequest.newBuilder(URI.create(at.path("url").asString() + "/Groups?count=200"))
                .header("Authorization", "Bearer " + Demo.read(at.path("tokenFile"))));
    var own = Demo.user("chartshare", TAM).path("id").asString();
    return JsonMapper.shared()
        .readTree(groups.body())
        .path("Resources")
        .valueStream()
        .filter(group -> group.path("displayName").asString().equals("Westholm"))
        .flatMap(group -> group.path("members").valueStream())
        .anyMatch(member -> member.path("value").asString().equals(own));
  }

  private static void pressed(String worker) {
    var chat = Demo.running().places().path("desks").path("harbour-chat");
    var answer =
        Demo.http(
            HttpRequest.newBuilder(URI.create(chat.path("controlUrl").asString()))
                .header("Authorization", "Bearer " + Demo.read(chat.path("tokenFile")))
                .POST(
                    BodyPublishers.ofString(
                        "{\"press\": \"approve\", \"to\": \"%s\"}".formatted(worker))));
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
  }

  @Test
  @Order(1)
  void he_finds_it_by_what_it_is_for_and_sees_who_decides_before_he_asks() {
    var running = Demo.running();
    assertThat(seesWestholm()).isFalse();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "tam", running.password("tam"));
      page.navigate("/requests");
      page.getByLabel("What do you need?").fill("seling tickets");
      var offer =
          page.getByRole(AriaRole.LISTITEM)
              .filter(new Locator.FilterOptions().setHasText("Ticket desk"));
      Barriers.none(page, "what can be asked for");
      offer.getByText("Ask for it").click();
      page.getByLabel("What is it needed for?").fill("the autumn sailings");
      page.getByText("See who decides").click();
      page.getByText("Answer this: Which harbour?").first().waitFor();
      page.getByLabel("Westholm").check();
      page.getByLabel("Until").fill(today().plusDays(3).toString());
      page.getByText("See who decides").click();
      page.getByText("Una Kerrow").waitFor();
      page.getByText("Papers of Westholm").waitFor();
      Barriers.none(page, "an ask");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Ask for it")).click();
      page.getByText("waits for Una Kerrow").first().waitFor();
      Barriers.none(page, "a request");
      request = page.url().replaceFirst(".*/", "");
    }
    assertThat(asked().path("lines").get(0).path("state").asString()).isEqualTo("open");
  }

  @Test
  @Order(2)
  void nobody_else_learns_of_it_and_he_cannot_agree_to_it_himself() {
    var line = asked().path("lines").get(0).path("id").asString();
    assertThat(Demo.http(get("/api/v1/requests/" + request, "angus")).statusCode()).isEqualTo(404);
    for (var who : List.of("tam", "angus", "emre", "astrid")) {
      assertThat(post("/api/v1/approvals/" + line, who, "{\"decision\": \"approve\"}"))
          .as(who)
          .isIn(403, 404);
    }
    assertThat(
            post(
                "/api/v1/approvals/" + line,
                "una",
                "{\"decision\": \"approve\", \"inPlaceOf\": \"W-01124\", \"reason\": \"quick\"}"))
        .isEqualTo(403);
    assertThat(asked().path("lines").get(0).path("state").asString()).isEqualTo("open");
  }

  @Test
  @Order(3)
  void his_manager_agrees_on_a_phone_and_the_steward_in_the_chat() {
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 390, 844)) {
      var page = console.signedIn(window, "una", running.password("una"));
      page.getByText("the autumn sailings").waitFor();
      Barriers.none(page, "a decision on a phone");
      page.getByRole(
              AriaRole.BUTTON,
              new Page.GetByRoleOptions().setName("Approve Ticket desk for Tam Ó Briain"))
          .click();
      page.getByText("the autumn sailings")
          .waitFor(new Locator.WaitForOptions().setState(WaitForSelectorState.DETACHED));
    }
    Demo.eventually(
        "the chat was told",
        () ->
            asked()
                .path("lines")
                .get(0)
                .path("stages")
                .get(1)
                .path("state")
                .asString()
                .equals("open"));
    Demo.eventually("the button is there", () -> isThere(EMRE));
    pressed(EMRE);
    Demo.eventually(
        "the account and the group are there",
        () -> roles().contains("SELL_TICKETS") && seesWestholm());
    Demo.eventually(
        "the page says so",
        () ->
            asked()
                .path("lines")
                .get(0)
                .path("became")
                .valueStream()
                .allMatch(each -> each.path("state").asString().equals("confirmed")));
    assertThat(Demo.glenmoor("people", "why", TAM, "chartshare/westholm"))
        .contains("asked for by the offer ticket-desk");
  }

  private static boolean isThere(String worker) {
    var chat = Demo.running().places().path("desks").path("harbour-chat");
    var heard =
        Demo.http(
            HttpRequest.newBuilder(URI.create(chat.path("heardUrl").asString()))
                .header("Authorization", "Bearer " + Demo.read(chat.path("tokenFile"))));
    return JsonMapper.shared()
        .readTree(heard.body())
        .valueStream()
        .anyMatch(event ->
            event.path("data").has("key")
                && event.path("data").path("to").asString().equals(worker));
  }

  @Test
  @Order(4)
  void the_steward_sees_who_has_it_and_could_end_it() {
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "emre", running.password("emre"));
      page.navigate("/portfolios/shore/packages/ticket-desk");
      page.getByRole(
              AriaRole.BUTTON, new Page.GetByRoleOptions().setName("End it for Tam Ó Briain"))
          .waitFor();
      Barriers.none(page, "who has a package");
    }
  }

  @Test
  @Order(5)
  void the_page_tells_the_whole_story_and_it_is_gone_when_its_time_is_over() {
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "tam", running.password("tam"));
      page.navigate("/requests/" + request);
      page.getByText("Emre Ó'Dála").first().waitFor();
      page.getByText("confirmed").first().waitFor();
      page.navigate("/");
      page.getByText("What you were given").waitFor();
      page.getByText("Ask for longer").waitFor();
    }
    Demo.glenmoor("clock", "advance", "5d");
    Demo.eventually("gone", () -> roles().isEmpty() && !seesWestholm());
  }

  @Test
  @Order(6)
  void what_one_person_must_not_hold_together_is_seen_and_allowed_on_terms() {
    var buys = asks("anneli", "W-01212", "purchase-raiser", "{\"limit\": \"500\"}");
    for (var stage = 0; stage < 2; stage++) {
      assertThat(decides("isa", buys, "\"inPlaceOf\": \"anybody\"")).isEqualTo(200);
    }
    Demo.eventually("he may buy", () -> state(buys).equals("approved"));
    var pays = asks("anneli", "W-01212", "payment-releaser", "{}");
    assertThat(line(pays).path("conflicts").get(0).path("name").asString())
        .isEqualTo("Raise a purchase and release a payment");
    var last = line(pays).path("stages").valueStream().toList().getLast();
    assertThat(last.path("ask").get(0).asString()).isEqualTo("conflict-owners");
    for (var stage = 0; stage < 3; stage++) {
      decides("isa", pays, "\"inPlaceOf\": \"anybody\"");
    }
    assertThat(state(pays)).as("nobody has allowed it").isEqualTo("open");
    assertThat(decides("rhona", pays, "\"control\": \"\"")).isEqualTo(422);
    var until = today().plusDays(13);
    assertThat(
            decides(
                "rhona",
                pays,
                "\"control\": \"each payment is looked through\", \"exemptUntil\": \"%s\""
                    .formatted(until)))
        .isEqualTo(200);
    Demo.eventually("given", () -> releases());
    assertThat(
            Instant.parse(line(pays).path("givenUntil").asString())
                .atZone(ZoneId.of("Atlantic/Faroe"))
                .toLocalDateTime())
        .as("to the end of its last day")
        .isEqualTo(until.plusDays(1).atStartOfDay());
    Demo.glenmoor("clock", "advance", "15d");
    Demo.eventually("the exemption is over, and what it allowed", () -> !releases());
  }

  private static JsonNode asks(String login, String worker, String offer, String answers) {
    var body =
        "{\"lines\": [{\"offer\": \"%s\", \"worker\": \"%s\", \"reason\": \"the lead is away\", \"answers\": %s}]}"
            .formatted(offer, worker, answers);
    var made = Demo.http(to("/api/v1/requests", login).POST(BodyPublishers.ofString(body)));
    assertThat(made.statusCode()).as(made.body()).isEqualTo(201);
    return JsonMapper.shared().readTree(made.body());
  }

  private static JsonNode line(JsonNode of) {
    var id = of.path("id").asString();
    return JsonMapper.shared()
        .readTree(Demo.http(get("/api/v1/requests/" + id, "isa")).body())
        .path("lines")
        .get(0);
  }

  private static String state(JsonNode of) {
    return line(of).path("state").asString();
  }

  private static int decides(String login, JsonNode of, String more) {
    return post(
        "/api/v1/approvals/" + of.path("lines").get(0).path("id").asString(),
        login,
        "{\"decision\": \"approve\", \"reason\": \"looked at\", %s}".formatted(more));
  }

  private static boolean releases() {
    return Demo.user("purserline", "W-01212")
        .path("roles")
        .valueStream()
        .anyMatch(role -> role.path("value").asString().equals("PAYMENT_RELEASE"));
  }

  @Test
  @Order(7)
  void a_bundler_uses_nothing_outside_their_portfolio() {
    for (var yaml :
        List.of(
            "package: mine\\nportfolio: money\\nentitlements: [purserline/release-payment]",
            "package: mine\\nportfolio: shore\\nentitlements: [purserline/release-payment]",
            "package: payment-releaser\\nportfolio: shore\\nentitlements: [quaybook/check-in]",
            "portfolio: shore\\nentitlements: [purserline/release-payment]")) {
      var body = "{\"files\": [{\"name\": \"x.yaml\", \"text\": \"%s\"}], \"replace\": false}";
      assertThat(post("/api/v1/definitions", "astrid", body.formatted(yaml)))
          .as(yaml)
          .isIn(403, 422);
    }
    assertThat(
            Demo.http(get("/api/v1/definitions/package/payment-releaser", "astrid")).statusCode())
        .isEqualTo(404);
    assertThat(Demo.http(get("/api/v1/definitions/package/ticket-desk", "astrid")).statusCode())
        .isEqualTo(200);
    assertThat(Demo.http(get("/api/v1/definitions", "astrid")).statusCode()).isEqualTo(403);
  }
}
