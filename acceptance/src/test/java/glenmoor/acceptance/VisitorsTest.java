package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A surveyor whom nobody knows yet asks by a link, counts once that was agreed to, and has nothing
 * left when the survey is over. And a package that is changed for many.
 */
@Order(14)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class VisitorsTest {
  private static final String MAIL = "sigrun@lunna-hull-survey.example";
  private static final Pattern CONFIRM = Pattern.compile("/partners/confirm#[A-Za-z0-9_-]+");
  private static String worker = "";

  private static List<JsonNode> letters(String to) {
    var post = Demo.running().places().path("postOffice");
    var answer =
        Demo.http(
            HttpRequest.newBuilder(URI.create(post.path("lettersUrl").asString()))
                .header("Authorization", "Bearer " + Demo.read(post.path("tokenFile"))));
    return JsonMapper.shared()
        .readTree(answer.body())
        .valueStream()
        .filter(letter -> letter.path("to").asString().equals(to))
        .toList();
  }

  private static JsonNode visitors() {
    return Demo.json("partners", "people", "lunna").path("items");
  }

  @Test
  @Order(1)
  void a_surveyor_asks_at_the_door_on_a_phone_and_confirms_by_letter() {
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 390, 844)) {
      var page = window.newPage();
      page.navigate("/partners/lunna");
      page.getByLabel("Your given name").fill("Sigrun");
      page.getByLabel("Your family name").fill("Aas");
      page.getByLabel("Your address at work").fill("sigrun@elsewhere.example");
      page.getByLabel("What is it needed for?").fill("the survey of the Westholm slip");
      Barriers.none(page, "a partner asks");
      send(page);
      page.getByText("one that ends with @lunna-hull-survey.example").first().waitFor();
      page.getByLabel("Your address at work").fill(MAIL);
      send(page);
      page.getByText("Read “Rules for visitors” and accept it.").first().waitFor();
      page.getByLabel("I have read this and accept it").check();
      send(page);
      page.getByText("Look into your letters").waitFor();
      assertThat(visitors()).isEmpty();
      Demo.eventually("the letter is there", () -> !letters(MAIL).isEmpty());
      var link = CONFIRM.matcher(letters(MAIL).getLast().path("text").asString());
      assertThat(link.find()).isTrue();
      page.navigate(link.group());
      Barriers.none(page, "a partner confirms");
      page.getByRole(
              AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Yes, this is my address"))
          .click();
      page.getByText("it is asked for now").waitFor();
    }
    worker = visitors().get(0).path("worker").asString();
    assertThat(worker).startsWith("V-");
    assertThat(visitors().get(0).path("termsVersion").asInt()).isOne();
  }

  private static void send(Page page) {
    page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Send it")).click();
  }

  @Test
  @Order(2)
  void the_people_desk_finds_her_among_those_who_were_written_by_hand() {
    var visitors = Demo.json("people", "list", "aas", "--source", "visitors", "--count");
    assertThat(visitors.path("items").valueStream().map(each -> each.path("worker").asString()))
        .as(visitors.toString())
        .containsExactly(worker);
    assertThat(visitors.path("total").asInt()).isOne();
    var nowhere = Demo.running().glenmoor("people", "list", "--source", "nowhere");
    assertThat(nowhere.exit()).as("wrong, and not refused").isEqualTo(2);
    assertThat(nowhere.err()).contains("no source “nowhere”");
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "anneli", running.password("anneli"));
      page.navigate("/records");
      page.getByRole(
              AriaRole.TAB, new Page.GetByRoleOptions().setName("Visitors who ask by a link"))
          .click();
      page.getByText("waits until agreed to").waitFor();
      Barriers.none(page, "who was written by hand");
      page.getByLabel("Search by name or worker number").fill("sigrun");
      page.getByText("1 person matches").waitFor();
      page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Sigrun Aas")).click();
      page.getByText("The record of Sigrun Aas").waitFor();
      assertThat(page.getByLabel("Family name").inputValue()).isEqualTo("Aas");
      page.getByRole(
              AriaRole.LINK,
              new Page.GetByRoleOptions().setName("All of Visitors who ask by a link"))
          .click();
      page.getByText("waits until agreed to").waitFor();
    }
  }

  @Test
  @Order(3)
  void she_counts_once_both_stages_agreed_and_has_the_drawings_under_her_own_address() {
    assertThat(Demo.glenmoor("people", "show", worker))
        .contains("expected; they count once that was agreed to")
        .doesNotContain("2999");
    for (var stage = 0; stage < 2; stage++) {
      var line =
          Demo.json("requests", "list", "--everybody", "--for", worker, "--state", "open")
              .path("items")
              .get(0)
              .path("line")
              .asString();
      Demo.glenmoor(
          "approvals", "approve", line, "--in-place-of", "anybody", "--reason", "he knows her");
    }
    Demo.eventually(
        "she counts",
        () ->
            Demo.api("/partner-organisations/lunna/people")
                .path("items")
                .get(0)
                .path("state")
                .asString()
                .equals("counts"));
    Demo.eventually(
        "she has the account",
        () -> Demo.user("chartshare", worker).path("userName").asString().equals(MAIL));
    assertThat(Demo.glenmoor("people", "show", worker)).contains("active");
  }

  @Test
  @Order(4)
  void it_is_over_with_the_survey_and_her_sponsor_is_told_that_nothing_is_left() {
    Demo.glenmoor("clock", "advance", "22d");
    Demo.eventually(
        "her account is shut", () -> !Demo.user("chartshare", worker).path("active").asBoolean());
    Demo.eventually(
        "her sponsor is told",
        () ->
            Demo.api("/messages?limit=200&worker=" + worker)
                .path("items")
                .valueStream()
                .anyMatch(letter ->
                    letter
                        .path("subject")
                        .asString()
                        .equals("Sigrun Aas has nothing left with us")));
  }

  @Test
  @Order(5)
  void a_package_that_would_take_from_many_says_why_is_held_released_and_confirmed() {
    var file = edit("chartshare/slip-drawings", "directory/deck-navigation");
    assertThat(Demo.glenmoor("define", "diff", file)).contains("people lose").contains("brake");
    var losers =
        Demo.json("define", "diff", file)
            .path("forecast")
            .path("lines")
            .valueStream()
            .filter(line -> !line.path("losses").isEmpty())
            .map(line -> line.path("worker").asString())
            .toList();
    assertThat(losers).hasSizeGreaterThan(40);
    assertThat(inGroup("Charts", losers)).isEqualTo(losers.size());
    assertThat(Demo.refused("define", "load", file)).contains("Say why the package");
    assertThat(Demo.refused("define", "load", file, "--why", "charts move to the bridge tablets"))
        .contains("A brake holds");
    var held =
        Demo.json("held", "list")
            .path("items")
            .valueStream()
            .filter(each -> each.path("state").asString().equals("held"))
            .findFirst()
            .orElseThrow()
            .path("id")
            .asString();
    releasedByAnother(held);
    Demo.eventually("the charts are gone for all of them", () -> inGroup("Charts", losers) == 0);
    Demo.eventually(
        "and the drawings are there", () -> inGroup("Slip drawings", losers) == losers.size());
    assertThat(Demo.glenmoor("define", "versions", "package", "deck-navigation"))
        .contains("charts move to the bridge tablets");
  }

  /** An administrator who did not bring it. */
  private static void releasedByAnother(String held) {
    var password = "a long enough password of hers";
    Demo.glenmoor(
        "sign-ins",
        "set",
        "grete",
        "--password-stays",
        "--duty",
        "administrator",
        "--password-file",
        written("password", password));
    var made =
        Demo.http(
            HttpRequest.newBuilder(URI.create(Demo.running().url() + "/api/v1/tokens"))
                .header("Content-Type", "application/json")
                .POST(
                    BodyPublishers.ofString(
                        "{\"login\": \"grete\", \"password\": \"%s\"}".formatted(password))));
    var token = JsonMapper.shared().readTree(made.body()).path("token").asString();
    var released =
        Demo.http(
            HttpRequest.newBuilder(
                    URI.create(Demo.running().url() + "/api/v1/held-changes/" + held + "/release"))
                .header("Content-Type", "application/json")
                .header("Authorization", "Bearer " + token)
                .POST(BodyPublishers.ofString("{\"note\": \"the bridge has its tablets\"}")));
    assertThat(released.statusCode()).as(released.body()).isEqualTo(202);
  }

  private static String edit(String... entitlements) {
    return written(
        "edit.yaml",
        "package: deck-navigation\nname: Deck & Navigation\npurpose: The daily work of Deck & Navigation\nentitlements: [%s]\n"
            .formatted(String.join(", ", entitlements)));
  }

  private static String written(String name, String text) {
    try {
      var file = Files.createTempDirectory("glenmoor").resolve(name);
      Files.writeString(file, text);
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
      return file.toString();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** How many of some people are in a group of Chartshare, by its own word. */
  private static long inGroup(String name, List<String> workers) {
    var at = Demo.running().places().path("standins").path("chartshare");
    var groups =
        Demo.http(
            HttpRequest.newBuilder(URI.create(at.path("url").asString() + "/Groups?count=200"))
                .header("Authorization", "Bearer " + Demo.read(at.path("tokenFile"))));
    var members =
        JsonMapper.shared()
            .readTree(groups.body())
            .path("Resources")
            .valueStream()
            .filter(group -> group.path("displayName").asString().equals(name))
            .flatMap(group -> group.path("members").valueStream())
            .map(member -> member.path("value").asString())
            .toList();
    return workers.stream()
        .map(worker -> Demo.user("chartshare", worker).path("id").asString())
        .filter(members::contains)
        .count();
  }
}
