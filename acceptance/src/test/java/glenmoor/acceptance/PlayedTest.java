package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitForSelectorState;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Playbooks after three months of Skerry Line: who came was written to, and who left is deleted
 * only once somebody has said yes.
 */
@Order(12)
class PlayedTest {
  private static final String LEAVER = "W-01188";
  private static final String JOINER = "W-01265";

  private static List<JsonNode> outside(JsonNode place, String url) {
    var all = new ArrayList<JsonNode>();
    var answer =
        Demo.http(
            HttpRequest.newBuilder(URI.create(place.path(url).asString()))
                .header("Authorization", "Bearer " + Demo.read(place.path("tokenFile"))));
    JsonMapper.shared().readTree(answer.body()).forEach(all::add);
    return all;
  }

  private static List<String> letters(String to) {
    return outside(Demo.running().places().path("postOffice"), "lettersUrl").stream()
        .filter(letter -> letter.path("to").asString().equals(to))
        .map(letter -> letter.path("subject").asString())
        .toList();
  }

  private static List<JsonNode> tickets(String about) {
    return outside(Demo.running().places().path("desks").path("help-desk"), "heardUrl").stream()
        .map(event -> event.path("data"))
        .filter(data -> data.path("worker").asString().equals(about))
        .toList();
  }

  private static JsonNode run(String playbook, String worker) {
    var runs = Demo.api("/runs?playbook=" + playbook + "&worker=" + worker).path("items");
    assertThat(runs).hasSize(1);
    return runs.get(0);
  }

  @Test
  @Order(1)
  void whoever_came_was_written_to_once_on_their_first_day() {
    var run = run("first-day", JOINER);
    assertThat(run.path("state").asString()).isEqualTo("done");
    assertThat(Demo.glenmoor("runs", "show", run.path("id").asString()))
        .as("nobody changed the passcode within three days")
        .contains("What was known of the account in directory opens nothing");
    assertThat(letters("strandb@skerryline.example")).containsOnlyOnce("Welcome aboard, Bo");
    var passcodes =
        outside(Demo.running().places().path("postOffice"), "lettersUrl").stream()
            .filter(letter -> letter.path("subject").asString().equals("A passcode for Bo Strand"))
            .toList();
    assertThat(passcodes).hasSize(1);
    assertThat(passcodes.getFirst().path("text").asString())
        .containsPattern("`[a-z2-9]{4}(-[a-z2-9]{4}){3}`");
    var shown = Demo.json("letters", "list", "--worker", JOINER, "--all");
    for (var message : shown.path("items")) {
      var text = Demo.glenmoor("letters", "show", message.path("id").asString());
      assertThat(text).doesNotContainPattern("[a-z2-9]{4}(-[a-z2-9]{4}){3}");
    }
  }

  @Test
  @Order(2)
  void a_question_that_nobody_answered_stops_the_run_and_keeps_the_account() {
    var run = run("leaver", LEAVER);
    assertThat(run.path("state").asString()).isEqualTo("stopped");
    assertThat(run.path("reason").asString()).isEqualTo("Nobody answered within 30 days.");
    assertThat(Demo.locked(LEAVER)).isTrue();
    assertThat(tickets(LEAVER))
        .extracting(data -> data.path("do").asString())
        .containsExactly("open", "comment");
  }

  @Test
  @Order(3)
  void the_fixer_is_asked_again_says_yes_in_the_console_and_the_account_goes() {
    var id = run("leaver", LEAVER).path("id").asString();
    Demo.glenmoor("runs", "again", id, "--reason", "the fixers were at sea");
    var running = Demo.running();
    Demo.eventually("asked", () -> run("leaver", LEAVER).path("state").asString().equals("open"));
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "kofi", running.password("kofi"));
      var question =
          page.getByRole(AriaRole.LISTITEM)
              .filter(
                  new Locator.FilterOptions().setHasText("May the account of Magnus Wiśniewska"));
      question.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Yes")).click();
      question.waitFor(new Locator.WaitForOptions().setState(WaitForSelectorState.DETACHED));
    }
    Demo.eventually("deleted", () -> tickets(LEAVER).size() == 3);
    assertThat(Demo.entries(LEAVER)).isEmpty();
    var said = tickets(LEAVER);
    assertThat(said)
        .extracting(data -> data.path("do").asString())
        .containsExactly("open", "comment", "close");
    assertThat(said.getLast().path("ticket").asString())
        .isNotEmpty()
        .isEqualTo(said.get(1).path("ticket").asString());
  }

  @Test
  @Order(4)
  void a_run_is_a_line_of_time_with_what_each_step_did() {
    var id = run("leaver", LEAVER).path("id").asString();
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "siobhan", running.password("siobhan"));
      page.navigate("/playbooks/runs/" + id);
      page.getByText("Closed the ticket HD-").waitFor();
      page.getByText("kofi said yes").waitFor();
      Barriers.none(page, "a run");
      page.navigate("/people/" + LEAVER + "?tab=runs");
      page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Leaver")).first().click();
      page.getByText("Erase the person").first().waitFor();
    }
  }

  @Test
  @Order(5)
  void a_rehearsal_says_what_would_be_done_and_nobody_is_told() {
    var before = letters("obriaint@skerryline.example").size();
    var said = Demo.glenmoor("playbooks", "rehearse", "first-day", "W-01012");
    assertThat(said)
        .contains(
            "Sets a passcode in directory and sends the letter “A passcode for Tam Ó Briain”");
    assertThat(Demo.glenmoor("letters", "preview", "welcome", "W-01012")).contains("obriaint");
    assertThat(letters("obriaint@skerryline.example")).hasSize(before);
  }

  @Test
  @Order(6)
  void whoever_is_erased_is_a_number_in_the_console_and_on_the_command_line() {
    var run = run("leaver", LEAVER).path("id").asString();
    assertThat(Demo.glenmoor("playbooks", "rehearse", "leaver", LEAVER))
        .contains("Erases all that says who Magnus Wiśniewska is; their worker number stays");
    Demo.glenmoor("runs", "end", run, "--reason", "erased before its time");
    var forget = file("playbook: forget\nname: Forget\non: demand\nsteps:\n- erase: person\n");
    Demo.glenmoor("define", "load", forget, "--why", "a leaver asked for it");
    Demo.glenmoor("playbooks", "play", "forget", LEAVER, "--reason", "she asked for it");
    Demo.glenmoor("playbooks", "play", "forget", JOINER, "--reason", "by mistake");
    Demo.eventually("erased", () -> run("forget", LEAVER).path("state").asString().equals("done"));
    assertThat(Demo.json("people", "show", LEAVER).toString())
        .contains("Erased W-01188", "\"erased\"")
        .doesNotContain("Wiśniewska", "Magnus");
    Demo.eventually(
        "refused", () -> run("forget", JOINER).path("state").asString().equals("stopped"));
    assertThat(run("forget", JOINER).path("reason").asString())
        .isEqualTo("Nothing was erased: Bo Strand has not left.");
    Demo.glenmoor(
        "runs", "end", run("forget", JOINER).path("id").asString(), "--reason", "a mistake");
    assertThat(Demo.glenmoor("ledger", "list", "--worker", LEAVER, "--all"))
        .doesNotContain("Wiśniewska")
        .contains("person-erased");
    var running = Demo.running();
    try (var console = new Console(running.url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "siobhan", running.password("siobhan"));
      page.navigate("/people/" + LEAVER);
      page.getByText("Erased W-01188").first().waitFor();
      Barriers.none(page, "somebody erased");
      for (var tab : List.of("access", "accounts", "facts", "runs", "history")) {
        page.navigate("/people/" + LEAVER + "?tab=" + tab);
        page.getByText("Erased W-01188").first().waitFor();
        assertThat(page.content()).as(tab).doesNotContain("Wiśniewska");
      }
    }
  }

  private static String file(String text) {
    try {
      return Files.writeString(Files.createTempFile("playbook", ".yaml"), text).toString();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }
}
