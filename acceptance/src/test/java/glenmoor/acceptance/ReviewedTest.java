package glenmoor.acceptance;

import static glenmoor.acceptance.Demo.glenmoor;
import static glenmoor.acceptance.Demo.json;
import static org.assertj.core.api.Assertions.assertThat;

import com.lowagie.text.pdf.PdfReader;
import com.lowagie.text.pdf.parser.PdfTextExtractor;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.http.HttpRequest.BodyPublishers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import tools.jackson.databind.JsonNode;

/**
 * Privileged access is looked through by those who own the applications: rehearsed, launched,
 * judged in the console, one of them late; what is revoked is gone wherever one looks, and the
 * report says so. Then an application that is away, and a surveyor who does not answer.
 */
@Order(15)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ReviewedTest {
  private static final String QUARTER =
      """
      entitlement: directory/information-services
      technical: information-services
      name: Information Services, department list
      kind: group
      risk: high
      ---
      entitlement: slipworks/work-jobs
      technical: WORK_JOBS
      name: Work on jobs and close them
      kind: role
      risk: high
      ---
      campaign: quarter
      name: Privileged access, this quarter
      holdings: holding.privileged && holding.application in ["directory", "slipworks", "quaybook"]
      reviewers: application-owners
      days: 14 days
      nudge: 5 days
      escalate: 12 days
      waits-letter: review-waits
      late-letter: review-late
      """;

  private static String round = "";
  private static String slipper = "";
  private static String officer = "";
  private static List<String> purser = List.of();

  private static String written(String name, String text) {
    try {
      return Files.writeString(Files.createTempDirectory("glenmoor").resolve(name), text)
          .toString();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private static JsonNode shown() {
    return json("campaigns", "show", round);
  }

  private static String state() {
    return Demo.api("/rounds/" + round).path("round").path("state").asString();
  }

  private static List<JsonNode> items(String of, String... more) {
    var words = new java.util.ArrayList<>(List.of("campaigns", "items", of, "--all"));
    words.addAll(List.of(more));
    return json(words.toArray(String[]::new)).path("items").valueStream().toList();
  }

  private static String review(String owners) {
    return shown()
        .path("reviewers")
        .valueStream()
        .filter(each -> each.path("reviewer").asString().equals(owners))
        .findFirst()
        .orElseThrow()
        .path("review")
        .asString();
  }

  @Test
  @Order(1)
  void it_is_rehearsed_and_launched() {
    glenmoor("duties", "give", "kofi", "application-owner:directory", "--reason", "for the review");
    glenmoor(
        "duties", "give", "rhona", "application-owner:slipworks", "--reason", "for the review");
    glenmoor("define", "load", written("quarter.yaml", QUARTER));
    assertThat(glenmoor("campaigns", "rehearse", "quarter"))
        .contains("Owners of Harbour Directory")
        .contains("Owners of Slipworks")
        .contains("Owners of Quaybook");
    round = json("campaigns", "launch", "quarter").path("round").asString();
    assertThat(Demo.refused("campaigns", "launch", "quarter")).contains("goes on since");
    assertThat(shown().path("reviewers").size()).isGreaterThanOrEqualTo(3);
    slipper = items(round, "--application", "slipworks").getFirst().path("worker").asString();
    officer = items(round, "--application", "directory").getFirst().path("worker").asString();
    assertThat(Demo.groups(officer)).contains("information-services");
    assertThat(permissions(slipper)).contains("WORK_JOBS");
  }

  private static String permissions(String worker) {
    return Demo.running()
        .sql(
            "select group_concat(p.permission) from slipworks.user_permissions p join slipworks.users u on u.id = p.user_id where u.staff_no = '%s'"
                .formatted(worker));
  }

  private static void grouped(Page page, String how) {
    page.getByRole(AriaRole.COMBOBOX, new Page.GetByRoleOptions().setName("Grouped")).click();
    page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName(how)).click();
  }

  @Test
  @Order(2)
  void two_owners_judge_theirs_in_the_console_and_sign_off() {
    try (var console = new Console(Demo.running().url())) {
      try (var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
        var page = console.signedIn(window, "rhona", Demo.running().password("rhona"));
        page.navigate("/reviews/" + review("Owners of Slipworks"));
        page.getByText("you have judged 0 of").waitFor();
        Barriers.none(page, "a review");
        grouped(page, "By application");
        page.getByRole(
                AriaRole.HEADING, new Page.GetByRoleOptions().setName("Slipworks").setLevel(2))
            .waitFor();
        Barriers.none(page, "a review by application");
        grouped(page, "By person");
        page.keyboard().press("r");
        page.getByText("1 to revoke").waitFor();
        keepTheRest(page);
        signOff(page, "Revoke 1 and sign off");
      }
      try (var window = console.window(ColorScheme.DARK, 390, 844)) {
        var page = console.signedIn(window, "kofi", Demo.running().password("kofi"));
        page.navigate("/reviews/" + review("Owners of Harbour Directory"));
        page.getByText("you have judged 0 of").waitFor();
        Barriers.none(page, "a review on a phone");
        button(page, "Revoke").first().click();
        page.getByText("1 to revoke").waitFor();
        keepTheRest(page);
        signOff(page, "Revoke 1 and sign off");
      }
    }
    Demo.eventually(
        "the directory has it no more",
        () -> !Demo.groups(officer).contains("information-services"));
    Demo.eventually("nor has Slipworks", () -> !permissions(slipper).contains("WORK_JOBS"));
  }

  private static com.microsoft.playwright.Locator button(Page page, String name) {
    return page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name));
  }

  /** One after the other: what is privileged is not kept all at once. */
  private static void keepTheRest(Page page) {
    var keep =
        page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Keep").setExact(true));
    while (true) {
      page.waitForTimeout(150);
      var left = keep.count();
      if (left == 0) {
        return;
      }
      keep.first().click();
      page.waitForCondition(() -> keep.count() < left);
    }
  }

  private static void signOff(Page page, String words) {
    page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("What would go")).click();
    page.getByText("come back by no rule").waitFor();
    Barriers.none(page, "a sign-off");
    button(page, words).click();
    page.getByText("signed off by").first().waitFor();
  }

  @Test
  @Order(3)
  void nobody_judges_what_is_not_theirs() {
    var item = items(round, "--application", "quaybook").getFirst().path("id").asString();
    var mine = review("Owners of Slipworks");
    // Whoever leads it may look, and not judge.
    assertThat(Demo.refused("reviews", "decide", mine, "keep", item)).contains("Only its reviewer");
  }

  @Test
  @Order(4)
  void the_third_is_reminded_and_told_of_and_at_the_end_what_they_left_goes() {
    purser =
        items(round, "--application", "quaybook", "--state", "undecided").stream()
            .map(item -> item.path("worker").asString())
            .toList();
    assertThat(purser).isNotEmpty();
    glenmoor("clock", "advance", "6d");
    glenmoor("clock", "advance", "7d");
    var letters = json("letters", "list", "--all").path("items");
    assertThat(
            letters
                .valueStream()
                .filter(each -> each.path("subject").asString().contains("this quarter"))
                .count())
        .as("the first letter and a reminder")
        .isGreaterThanOrEqualTo(2);
    assertThat(
            letters
                .valueStream()
                .anyMatch(
                    each -> each.path("subject").asString().equals("Reviews that are not done")))
        .isTrue();
    glenmoor("clock", "advance", "2d");
    Demo.eventually(
        "nobody reads the manifest any more",
        () ->
            purser.stream()
                .noneMatch(
                    worker -> Demo.user("quaybook", worker).toString().contains("READ_MANIFEST")));
    Demo.eventually("the round is closed", () -> state().equals("closed"));
  }

  @Test
  @Order(5)
  void the_report_says_who_decided_what_and_that_it_is_gone() throws IOException {
    var pdf = Files.createTempDirectory("glenmoor").resolve("round.pdf");
    glenmoor("campaigns", "report", round, "--to", pdf.toString());
    var text = new StringBuilder();
    try (var reader = new PdfReader(pdf.toString())) {
      for (var page = 1; page <= reader.getNumberOfPages(); page++) {
        text.append(new PdfTextExtractor(reader).getTextFromPage(page));
      }
    }
    assertThat(text.toString())
        .contains("Privileged access, this quarter")
        .contains("Owners of Slipworks")
        .contains("as signed")
        .contains("Work on jobs")
        .contains("gone, ")
        .doesNotContain("changed since");
    var csv = Path.of(pdf.toString().replace(".pdf", ".csv"));
    glenmoor("campaigns", "report", round, "--to", csv.toString());
    assertThat(Files.readAllLines(csv)).hasSize(items(round).size() + 1);
    var xlsx = Path.of(pdf.toString().replace(".pdf", ".xlsx"));
    glenmoor("campaigns", "report", round, "--to", xlsx.toString());
    assertThat(Files.size(xlsx)).isGreaterThan(2_000);
  }

  @Test
  @Order(6)
  void the_round_after_it_shows_what_has_changed() {
    var next = json("campaigns", "launch", "quarter").path("round").asString();
    var compared = json("campaigns", "show", next).path("compared");
    assertThat(compared.path("revokedThen").asInt()).isGreaterThanOrEqualTo(2 + purser.size());
    assertThat(compared.path("back").asInt()).isZero();
    assertThat(compared.path("stayed").asInt()).isPositive();
    glenmoor("campaigns", "drop", next, "--reason", "only to look");
    assertThat(Demo.groups(officer)).doesNotContain("information-services");
  }

  @Test
  @Order(7)
  void what_an_application_that_is_away_has_not_confirmed_is_said_and_the_round_closes_by_itself() {
    glenmoor(
        "define",
        "load",
        written(
            "gull.yaml",
            """
            campaign: gull
            name: Papers of Gull Sound
            holdings: holding.entitlement == "chartshare/charts" && !("birthright" in holding.basis) || holding.entitlement == "chartshare/slip-drawings"
            people: person.department == "Engine Room"
            reviewers: person W-01204
            """));
    round = json("campaigns", "launch", "gull").path("round").asString();
    Demo.failureMode("chartshare", "{\"mode\":\"down\"}");
    glenmoor("campaigns", "close", round, "--reason", "the drawings moved to Slipworks");
    Demo.eventually("it is closing", () -> state().equals("closing"));
    Demo.eventually(
        "it says what is not confirmed",
        () -> glenmoor("campaigns", "show", round).contains("is removing"));
    assertThat(state()).isEqualTo("closing");
    Demo.failureMode("chartshare", "{\"mode\":\"well\"}");
    Demo.eventually("it closes by itself", () -> state().equals("closed"));
    assertThat(items(round)).allMatch(each -> each.path("state").asString().equals("gone"));
  }

  @Test
  @Order(8)
  void a_surveyor_who_does_not_answer_loses_it_on_the_day_and_was_told_twice() {
    var asked =
        Demo.http(
            AskedTest.to("/api/v1/requests", "aino")
                .POST(
                    BodyPublishers.ofString(
                        "{\"lines\": [{\"offer\": \"survey-visitor\", \"worker\": \"W-01256\", \"reason\": \"the next survey\"}]}")));
    assertThat(asked.statusCode()).as(asked.body()).isLessThan(300);
    for (var stage = 0; stage < 2; stage++) {
      var line =
          json("requests", "list", "--everybody", "--for", "W-01256", "--state", "open")
              .path("items")
              .get(0)
              .path("line")
              .asString();
      glenmoor(
          "approvals", "approve", line, "--in-place-of", "anybody", "--reason", "she is known");
    }
    Demo.eventually(
        "she has it", () -> Demo.user("chartshare", "W-01256").path("active").asBoolean());
    round = json("campaigns", "launch", "survey-visitors").path("round").asString();
    var mine = items(round);
    assertThat(mine)
        .isNotEmpty()
        .allMatch(each ->
            each.path("worker").asString().startsWith("W-0125")
                || each.path("worker").asString().startsWith("V-"));
    glenmoor("clock", "advance", "15d");
    Demo.eventually(
        "her account is shut",
        () -> !Demo.user("chartshare", "W-01256").path("active").asBoolean());
    Demo.eventually("the round is closed", () -> state().equals("closed"));
    var told =
        json("letters", "list", "--worker", "W-01256", "--all")
            .path("items")
            .valueStream()
            .filter(letter -> letter.path("subject").asString().contains("Survey visitors"))
            .count();
    assertThat(told).as("at the beginning, and a reminder").isGreaterThanOrEqualTo(2);
  }
}
