package glenmoor.acceptance;

import static glenmoor.acceptance.Demo.glenmoor;
import static glenmoor.acceptance.Demo.json;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitForSelectorState;
import java.nio.file.Files;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Arrays;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/**
 * A seat that nobody uses: found from what the application tells of use, its owner asked, the
 * account shut, and the seat free for somebody else.
 */
@Order(16)
class IdleSeatTest {
  private static final String PLAYBOOK =
      """
      playbook: idle-seat
      name: A seat that nobody uses
      on: idle
      application: quaybook
      steps:
      - ask: Does {{person.name}} need Quaybook no longer?
        of: owners of quaybook
      - disable: quaybook
      """;

  /** Everybody who can sign in there, but whoever has been asked about before. */
  private static String[] enabled() {
    return Demo.running()
        .sql(
            "select group_concat(p.worker_number order by p.worker_number) from account a join person p on p.id = a.person_id where a.application = 'quaybook' and a.seen_state = 'enabled' and a.state = 'enabled'")
        .split(",");
  }

  private static int taken() {
    return JsonMapper.shared()
        .readTree(Demo.http(DoorsTest.as("isa", "/api/v1/requests/numbers/applications")).body())
        .valueStream()
        .filter(each -> each.path("application").asString().equals("quaybook"))
        .findFirst()
        .orElseThrow()
        .path("taken")
        .asInt();
  }

  @Test
  void a_seat_that_nobody_uses_is_found_asked_about_and_free() throws Exception {
    var all = enabled();
    assertThat(all).hasSizeGreaterThan(10);
    var forgotten = all[all.length / 2];
    var now = Instant.parse(json("clock", "show").path("now").asString());
    var uses = new StringBuilder("worker,last used\n");
    Arrays.stream(all)
        .forEach(worker ->
            uses.append(worker)
                .append(',')
                .append(worker.equals(forgotten) ? now.minus(90, ChronoUnit.DAYS) : now)
                .append('\n'));
    var file = Files.writeString(Files.createTempFile("uses", ".csv"), uses);
    assertThat(glenmoor("usage", "load", "quaybook", file.toString()))
        .contains(String.valueOf(all.length));
    assertThat(glenmoor("usage", "idle", "--application", "quaybook")).contains(forgotten);
    assertThat(Demo.user("quaybook", forgotten).path("active").asBoolean()).isTrue();
    var seats = taken();

    glenmoor(
        "define",
        "load",
        Files.writeString(Files.createTempDirectory("idle").resolve("idle.yaml"), PLAYBOOK)
            .toString());
    Demo.eventually(
        "the owner asked",
        () -> Demo.api("/asks?all=true").path("items").toString().contains("Quaybook no longer"));
    assertThat(glenmoor("asks", "list", "--everybody")).contains("Quaybook no longer");
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "emre", Demo.running().password("emre"));
      page.navigate("/");
      page.getByText("need Quaybook no longer?").waitFor();
      Barriers.none(page, "a question about a seat");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Yes").setExact(true))
          .first()
          .click();
      page.getByText("need Quaybook no longer?")
          .waitFor(new Locator.WaitForOptions().setState(WaitForSelectorState.DETACHED));
    }
    Demo.eventually(
        "the account shut", () -> !Demo.user("quaybook", forgotten).path("active").asBoolean());
    Demo.eventually("the seat free", () -> taken() == seats - 1);
    assertThat(glenmoor("usage", "idle", "--application", "quaybook")).doesNotContain(forgotten);
    assertThat(Demo.running().sql("select count(*) from playbook_run where playbook = 'idle-seat'"))
        .isEqualTo("1");
  }
}
