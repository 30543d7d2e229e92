package glenmoor.acceptance;

import static glenmoor.acceptance.Demo.entry;
import static glenmoor.acceptance.Demo.eventually;
import static glenmoor.acceptance.Demo.glenmoor;
import static glenmoor.acceptance.Demo.groups;
import static glenmoor.acceptance.Demo.json;
import static glenmoor.acceptance.Demo.refused;
import static glenmoor.acceptance.Demo.user;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import tools.jackson.databind.JsonNode;

/** The first mate must go this minute; and it was a mistake. */
@Order(8)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class CutOffTest {
  private static final String AINO = "W-01010";

  private static Map<String, String> progress(JsonNode shown) {
    var progress = new TreeMap<String, String>();
    shown
        .path("applications")
        .forEach(each ->
            progress.put(each.path("application").asString(), each.path("progress").asString()));
    return progress;
  }

  private static int stepOf(String playbook) {
    var runs = Demo.api("/runs?worker=" + AINO + "&playbook=" + playbook).path("items");
    return runs.path(0).path("step").asInt(0);
  }

  @Test
  @Order(1)
  void what_would_go_is_said_first() {
    assertThat(glenmoor("cut-off", "now", AINO, "--forecast"))
        .contains("Aino Hauge (W-01010)", "Harbour Directory", "shut, 3 rights taken");
    assertThat(groups(AINO)).as("nothing happened").isNotEmpty();
    assertThat(refused("cut-off", "bring-back", AINO, "--reason", "too early"))
        .contains("is not cut off");
  }

  @Test
  @Order(2)
  void every_application_is_seen_to_go_from_sent_to_confirmed() {
    var passcode = json("people", "passcode", AINO).path("passcode").asString();
    assertThat(Demo.canBind(entry(AINO).getDN(), passcode)).isTrue();
    var shown = json("cut-off", "now", AINO, "--reason", "asked for by the harbour master");
    assertThat(progress(shown))
        .containsEntry("directory", "confirmed")
        .containsEntry("chartshare", "confirmed")
        .containsEntry("quaybook", "confirmed")
        .as("a task is somebody's")
        .containsEntry("radio-room", "task");
    assertThat(Demo.canBind(entry(AINO).getDN(), passcode)).isFalse();
    assertThat(groups(AINO)).isEmpty();
    assertThat(user("chartshare", AINO).path("active").asBoolean()).isFalse();
    assertThat(user("quaybook", AINO).path("active").asBoolean()).isFalse();
    assertThat(glenmoor("cut-off", "list")).contains(AINO, "asked for by the harbour master");
  }

  @Test
  @Order(3)
  void the_feed_that_still_knows_her_gives_nothing_back() {
    glenmoor("feeds", "load", Demo.feed("2027-06"));
    Demo.allConfirmed();
    assertThat(groups(AINO)).isEmpty();
    assertThat(json("cut-off", "show", AINO).path("sourceSays").asString()).isEqualTo("active");
  }

  @Test
  @Order(4)
  void the_people_desk_brings_her_back_in_the_console() {
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "anneli", Demo.running().password("anneli"));
      page.navigate("/cut-off");
      page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Aino Hauge")).click();
      page.getByText("cut off, whatever their source says").waitFor();
      page.getByLabel("Why; it is kept").fill("it was somebody else");
      page.getByText("Bring back").click();
      page.getByText("was brought back").waitFor();
    }
    Demo.allConfirmed();
    eventually("she is back", () -> groups(AINO).contains("crew"));
    assertThat(user("quaybook", AINO).path("active").asBoolean()).isTrue();
    assertThat(glenmoor("cut-off", "list")).doesNotContain(AINO);
    // Coming back has begun a playbook, whose second step is a passcode of its own.
    eventually("its passcode is set", () -> stepOf("back-again") > 2);
    var passcode = json("people", "passcode", AINO).path("passcode").asString();
    assertThat(Demo.canBind(entry(AINO).getDN(), passcode)).isTrue();
  }
}
