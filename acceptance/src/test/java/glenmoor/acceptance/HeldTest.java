package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.playwright.AxeBuilder;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.List;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/**
 * July's file lost a third of the company on its way: the brake holds it, and somebody else drops
 * it.
 */
@Order(5)
class HeldTest {
  private static int left() {
    return Demo.json("people", "list", "--count", "--standing", "left").path("total").asInt();
  }

  @Test
  void a_file_that_lost_a_third_of_the_company_waits_and_is_dropped_in_the_console() {
    var before = left();
    var said = Demo.running().glenmoor("feeds", "load", Demo.feed("2027-07"));
    assertThat(said.exit()).isEqualTo(1);
    assertThat(said.out()).contains("A brake holds this feed", "are missing from the file");
    assertThat(left()).isEqualTo(before);
    var held = Demo.json("held", "list", "--state", "held").path("items").get(0);
    var id = held.path("id").asString();
    assertThat(Demo.glenmoor("held", "show", id)).contains("people lose access", "leaver");
    assertThat(Demo.refused("held", "release", id, "--reason", "looks fine"))
        .contains("somebody else");
    dropped(id);
    assertThat(Demo.json("held", "show", id).path("state").asString()).isEqualTo("dropped");
    assertThat(left()).isEqualTo(before);
    assertThat(Demo.glenmoor("ledger", "list", "--subject", "held:" + id))
        .contains("change-held", "change-dropped");
  }

  private static void dropped(String id) {
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "anneli", Demo.running().password("anneli"));
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Look and decide"))
          .first()
          .click();
      page.getByText("What it would do").waitFor();
      assertThat(page.url()).endsWith("/held/" + id);
      var found = new AxeBuilder(page).withTags(List.of("wcag2a", "wcag2aa")).analyze();
      assertThat(found.getViolations()).isEmpty();
      page.getByLabel("Why it is right, or wrong").fill("the file was cut on its way");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Drop: forget it"))
          .click();
      page.getByText("the file was cut on its way").waitFor();
    }
  }
}
