package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.Set;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** Applications that fail: what waits, what is seen, and how it is mended. */
@Order(3)
class FaultsTest {
  @AfterEach
  void well() {
    Demo.failureMode("chartshare", "{\"mode\":\"well\"}");
  }

  private static String health() {
    for (var each : Demo.api("/applications").path("items")) {
      if (each.path("key").asString().equals("chartshare")) {
        return each.path("health").asString();
      }
    }
    return "none";
  }

  @Test
  @Order(1)
  void while_an_application_is_down_operations_wait_and_nothing_is_lost() {
    Demo.glenmoor("clock", "advance", "33d");
    Demo.failureMode("chartshare", "{\"mode\":\"down\"}");
    Demo.glenmoor("feeds", "load", Demo.feed("2027-05"));
    Demo.eventually("chartshare seen as unwell", () -> health().equals("unwell"));
    // A playbook may set a passcode in the directory a moment after the feed: that is done soon.
    Demo.eventually(
        "only what chartshare is to do waits", () -> Demo.waiting().equals(Set.of("chartshare")));
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
    Demo.failureMode("chartshare", "{\"mode\":\"well\"}");
    Demo.allConfirmed();
    Demo.eventually("chartshare seen as well", () -> health().equals("well"));
    assertThat(Demo.json("applications", "list").path("items"))
        .anySatisfy(each -> {
          assertThat(each.path("key").asString()).isEqualTo("chartshare");
          assertThat(each.path("health").asString()).isEqualTo("well");
        });
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
  }

  @Test
  @Order(2)
  void a_refusal_is_a_fault_that_can_be_tried_again_from_the_command_line_and_the_console() {
    Demo.glenmoor("clock", "advance", "30d");
    Demo.failureMode("chartshare", "{\"mode\":\"refuse\",\"reason\":\"the ledger is shut\"}");
    Demo.glenmoor("feeds", "load", Demo.feed("2027-06"));
    Demo.eventually(
        "faults",
        () ->
            Demo.api("/operations?state=fault").path("items").size() > 1
                && Set.of("chartshare").containsAll(Demo.waiting()));
    var faults = Demo.json("operations", "list", "--state", "fault").path("items");
    assertThat(faults)
        .allSatisfy(
            each -> assertThat(each.path("reason").asString()).isEqualTo("the ledger is shut"));
    Demo.failureMode("chartshare", "{\"mode\":\"well\"}");
    var first = faults.get(0).path("id").asString();
    Demo.glenmoor("operations", "retry", first);
    var old = Demo.json("operations", "show", first);
    assertThat(old.path("state").asString()).isEqualTo("superseded");
    Demo.eventually(
        "what was planned anew confirmed",
        () ->
            Demo.api("/operations?worker=" + old.path("worker").asString())
                .path("items")
                .valueStream()
                .noneMatch(each -> each.path("state").asString().matches("waiting|fault")));
    assertThat(
            Demo.json("operations", "list", "--worker", old.path("worker").asString())
                .path("items"))
        .isNotEmpty()
        .noneMatch(each -> each.path("state").asString().matches("waiting|fault"));
    assertThat(Demo.refused("operations", "retry", first)).contains("is superseded");
    retryTheRestOnToday();
    Demo.allConfirmed();
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
  }

  private static void retryTheRestOnToday() {
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "isa", Demo.running().password("isa"));
      page.getByText("the ledger is shut").first().waitFor();
      page.getByRole(
              AriaRole.BUTTON, new Page.GetByRoleOptions().setName(Pattern.compile("Try .*again")))
          .first()
          .click();
      Demo.eventually(
          "no fault left", () -> Demo.api("/operations?state=fault").path("items").isEmpty());
    }
  }
}
