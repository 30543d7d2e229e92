package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitForSelectorState;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** The console in a real browser: its pages, by keyboard and mouse, without barriers. */
@AnyDay
@Order(4)
class ConsoleTest {
  private static final List<String> PAGES =
      List.of(
          "/",
          "/people",
          "/people/W-01007",
          "/people/W-01007?tab=accounts",
          "/people/W-01007?tab=history",
          "/flow",
          "/feeds",
          "/applications",
          "/applications/directory",
          "/applications/mishap-book?tab=files",
          "/definitions/letter/welcome",
          "/definitions/playbook/leaver",
          "/operations",
          "/tasks",
          "/drift",
          "/held",
          "/held/limits",
          "/cut-off",
          "/requests",
          "/portfolios",
          "/portfolios/shore",
          "/definitions/offer/ticket-desk",
          "/requests?tab=all",
          "/requests?tab=numbers",
          "/requests/list",
          "/portfolios/shore/packages/ticket-desk",
          "/partners",
          "/partners/lunna/people",
          "/records",
          "/people/W-00000",
          "/idle",
          "/conflicts",
          "/away",
          "/cut-off/W-01010",
          "/work",
          "/playbooks",
          "/playbooks/leaver",
          "/playbooks/leaver?tab=rehearsal",
          "/letters",
          "/letters?tab=templates",
          "/people/W-01007?tab=runs",
          "/ledger",
          "/parts");

  private interface Story {
    void tell(Page page);
  }

  private static void asSomebody(String login, ColorScheme scheme, int width, Story story) {
    try (var console = new Console(Demo.running().url());
        var window = console.window(scheme, width, 800)) {
      var forbidden = new ArrayList<String>();
      window.onConsoleMessage(message -> {
        if (message.text().contains("Content Security Policy")) {
          forbidden.add(message.text());
        }
      });
      story.tell(console.signedIn(window, login, Demo.running().password(login)));
      assertThat(forbidden).as("what the page may not load").isEmpty();
    }
  }

  /** Each page is looked at in the light as a whole; in the dark only the colours are others. */
  @Test
  @Order(1)
  void no_page_has_a_barrier_in_the_light_or_the_dark() {
    var half = PAGES.size() / 2;
    // Two browsers beside each other: half of the time is waiting for pages to come to rest.
    var beside = CompletableFuture.runAsync(() -> noBarriers(PAGES.subList(0, half)));
    noBarriers(PAGES.subList(half, PAGES.size()));
    beside.join();
  }

  private static void noBarriers(List<String> addresses) {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          for (var address : addresses) {
            page.navigate(address);
            page.locator("h1").first().waitFor();
            page.waitForTimeout(400);
            Barriers.none(page, address + " in the light");
            assertThat(page.evaluate("document.documentElement.scrollWidth <= innerWidth"))
                .as("no sideways scroll on " + address)
                .isEqualTo(true);
            page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(ColorScheme.DARK));
            // Asking again and again by a function would evaluate text, which the page forbids.
            page.locator("html[data-theme=dark]").waitFor();
            page.waitForTimeout(200);
            Barriers.noneByColour(page, address + " in the dark");
            page.emulateMedia(new Page.EmulateMediaOptions().setColorScheme(ColorScheme.LIGHT));
          }
        });
  }

  @Test
  @Order(2)
  void a_letter_is_written_with_what_is_wrong_at_its_line_and_read_before_it_is_loaded() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/definitions/letter/new");
          var text = page.getByLabel("The definition, as YAML");
          text.fill("letter: harbour-day\nsubject: A day out\nbody: Dear {{person.nickname}}\n");
          page.getByText("there is no fact nickname").waitFor();
          var load = button(page, "Load it");
          assertThat(load.isDisabled()).as("what is wrong cannot be loaded").isTrue();
          text.fill(
              "letter: harbour-day\nname: Harbour day\nsubject: A day out\nbody: Dear {{person.given}}, come to Westholm.\n");
          page.getByText("added, not loaded yet").waitFor();
          page.getByLabel("About whom").first().fill("W-01007");
          page.getByText("Una Kerrow").first().click();
          // As text it stands folded away, as HTML in a frame of its own.
          page.getByText("Dear Una, come to Westholm.")
              .first()
              .waitFor(new Locator.WaitForOptions().setState(WaitForSelectorState.ATTACHED));
          load.click();
          page.getByText("It is in force", new Page.GetByTextOptions().setExact(true)).waitFor();
          page.navigate("/letters?tab=templates");
          page.getByText("Harbour day").waitFor();
        });
  }

  @Test
  @Order(2)
  void a_rule_says_who_would_break_it_and_every_template_of_a_campaign_is_right_as_it_stands() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/definitions/conflict-rule/new");
          var text = page.getByLabel("The definition, as YAML");
          page.getByText("things are wrong").waitFor();
          text.fill(
              "conflict-rule: crew-and-crew\nname: Be crew, twice\nrisk: A rule that most break.\nsides:\n- directory/crew\n- directory/terminals\nexempt: 9 days\n");
          page.getByText("would be in conflict once it is in force").waitFor();
          Barriers.none(page, "a rule that is tried");
          page.navigate("/definitions/campaign/new");
          page.getByText("added, not loaded yet").waitFor();
          var choice =
              page.getByRole(AriaRole.COMBOBOX, new Page.GetByRoleOptions().setName("Template"));
          choice.click();
          var names = page.getByRole(AriaRole.OPTION).allInnerTexts().stream().skip(1).toList();
          assertThat(names).hasSizeGreaterThan(4);
          page.keyboard().press("Escape");
          for (var name : names) {
            choice.click();
            page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName(name)).click();
            page.getByText("added, not loaded yet").waitFor();
            assertThat(page.getByText("wrong").count()).as(name).isZero();
          }
          Barriers.none(page, "a campaign that is written");
        });
  }

  private static Locator button(Page page, String name) {
    return page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name));
  }

  @Test
  @Order(3)
  void the_door_has_no_barrier_and_says_when_a_password_is_wrong() {
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = window.newPage();
      page.navigate("/people/W-01007");
      page.waitForURL(address -> address.contains("/sign-in"));
      Barriers.none(page, "/sign-in");
      page.getByLabel("Sign-in name").fill("isa");
      page.getByLabel("Password").fill("wrong");
      page.keyboard().press("Enter");
      page.getByText("do not belong together").waitFor();
      page.getByLabel("Password").fill(Demo.running().password("isa"));
      page.keyboard().press("Enter");
      page.waitForURL(address -> address.endsWith("/people/W-01007"));
    }
  }

  @Test
  @Order(4)
  void filters_live_in_the_address_and_the_list_follows_them() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/people?department=Finance");
          page.getByText("people match").waitFor();
          page.waitForCondition(() -> {
            var rows = page.locator("tbody tr").count();
            return rows > 0 && rows < 20;
          });
          page.getByLabel("Search by name or worker number").fill("Vane");
          page.waitForURL(address -> address.contains("text=Vane"));
          page.getByText("1 person matches").waitFor();
          page.getByText("Rhona Vane").click();
          page.waitForURL(address -> address.endsWith("/people/W-01204"));
        });
  }

  @Test
  @Order(5)
  void many_rows_are_drawn_only_where_they_are_seen_and_all_can_be_reached() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/people");
          page.getByText("people").first().waitFor();
          page.locator("tbody tr").first().waitFor();
          assertThat(page.locator("tbody tr").count()).isLessThan(80);
          page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("People"))
              .evaluate("each => each.scrollTop = each.scrollHeight");
          page.getByText("Zofia").last().waitFor();
        });
  }

  @Test
  @Order(6)
  void the_finder_goes_to_a_person_by_keyboard() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.keyboard().press("Control+k");
          // What is typed before the finder has the keyboard would go nowhere.
          page.locator("input[role=combobox]:focus").waitFor();
          page.keyboard().type("una kerrow");
          page.getByRole(AriaRole.OPTION).first().waitFor();
          page.keyboard().press("Enter");
          page.waitForURL(address -> address.endsWith("/people/W-01007"));
        });
  }

  @Test
  @Order(7)
  void why_is_told_for_the_bar_that_was_chosen() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/people/W-01007");
          page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Start kit")).click();
          page.waitForURL(address -> address.contains("why=directory"));
          page.getByText("Why “All crew”?").waitFor();
          assertThat(
                  page.getByLabel("Why", new Page.GetByLabelOptions().setExact(true)).innerText())
              .contains("person.kind")
              .contains("kerrowu in Harbour Directory");
        });
  }

  @Test
  @Order(8)
  void a_feed_is_forecast_before_and_the_flow_shows_what_follows() {
    asSomebody(
        "anneli",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/feeds?load=yes");
          page.locator("input[type=file]")
              .setInputFiles(Demo.running().scenario("feeds/2027-05.csv"));
          page.getByText("nothing was done yet").waitFor();
          Barriers.none(page, "the forecast");
          page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Drop it")).click();
          page.getByText("Drop a file here").waitFor();
        });
  }

  @Test
  @Order(9)
  void a_manager_sees_their_reports_and_nobody_else() {
    asSomebody(
        "angus",
        ColorScheme.LIGHT,
        1280,
        page -> {
          assertThat(
                  page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Flow"))
                      .count())
              .isZero();
          page.navigate("/people");
          page.getByText("you and").waitFor();
          page.navigate("/people/W-01204");
          page.getByText("whom you may see").waitFor();
        });
  }

  @Test
  @Order(9)
  void a_fixer_sees_their_applications_and_no_door_to_anything_else() {
    asSomebody(
        "kofi",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Applications"))
              .click();
          page.getByText("4 applications").waitFor();
          Barriers.none(page, "a fixer's applications");
          for (var closed : List.of("Flow", "Feeds", "Held", "Ledger")) {
            var name = new Page.GetByRoleOptions().setName(closed).setExact(true);
            assertThat(page.getByRole(AriaRole.LINK, name).count()).as(closed).isZero();
          }
        });
  }

  @Test
  @Order(9)
  void a_first_password_is_changed_before_anything_is_shown() throws IOException {
    var given = Files.writeString(Files.createTempFile("password", ""), "harbour lights");
    Demo.glenmoor(
        "sign-ins", "set", "newhand", "--worker", "W-01046", "--password-file", given + "");
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = window.newPage();
      page.navigate("/sign-in");
      page.getByLabel("Sign-in name").fill("newhand");
      page.getByLabel("Password").fill("harbour lights");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Sign in")).click();
      page.getByText("Somebody else chose the one you have").waitFor();
      Barriers.none(page, "a first password");
      page.navigate("/people");
      page.getByLabel("The one you have").fill("harbour lights");
      page.getByLabel("A new one").fill("skerry lights");
      page.getByLabel("The new one again").fill("skerry");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Change")).click();
      page.getByText("The two are not the same.").waitFor();
      page.getByLabel("The new one again").fill("skerry lights");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Change")).click();
      page.getByRole(AriaRole.NAVIGATION, new Page.GetByRoleOptions().setName("Places")).waitFor();
    }
  }

  @Test
  @Order(10)
  void today_can_be_read_and_decided_on_a_phone() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        390,
        page -> {
          page.locator("h1").first().waitFor();
          Barriers.none(page, "today on a phone");
          assertThat(page.evaluate("document.documentElement.scrollWidth <= innerWidth"))
              .isEqualTo(true);
        });
  }

  private static String sheet(Path workbook) throws IOException {
    try (var zip = new ZipFile(workbook.toFile())) {
      var entry = zip.getEntry("xl/worksheets/sheet1.xml");
      return new String(zip.getInputStream(entry).readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  @Test
  @Order(11)
  void what_a_table_shows_is_exported_whole_to_a_spreadsheet_and_as_csv() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/operations?state=confirmed");
          page.locator("tbody tr").first().waitFor();
          var seen = page.locator("tbody tr").count();
          for (var format : List.of("as XLSX", "as CSV")) {
            page.getByLabel("Export what is shown").click();
            var download =
                page.waitForDownload(() ->
                    page.getByRole(
                            AriaRole.MENUITEM,
                            new Page.GetByRoleOptions().setName(format).setExact(true))
                        .click());
            assertThat(rows(download.path(), format))
                .as("more than the pages that were seen, " + format)
                .isGreaterThan(seen)
                .isGreaterThan(400);
          }
        });
  }

  private static int rows(Path file, String format) {
    try {
      return format.equals("as CSV")
          ? Files.readAllLines(file).size() - 1
          : sheet(file).split("<row ").length - 2;
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  @Test
  @Order(12)
  void a_row_is_reached_and_opened_with_the_keyboard_alone() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/people?department=Finance");
          page.locator("tbody a").first().waitFor();
          var third = page.locator("tbody a").nth(2);
          var address = third.getAttribute("href");
          page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("People")).focus();
          for (var i = 0; i < 3; i++) {
            page.keyboard().press("ArrowDown");
          }
          page.keyboard().press("Enter");
          page.waitForURL(at -> at.endsWith(address));
        });
  }

  @Test
  @Order(13)
  void a_sheet_has_an_address_of_its_own_and_closing_it_leaves_the_list() {
    var id = Demo.json("operations", "list").path("items").path(0).path("id").asString();
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/operations/" + id + "?state=confirmed");
          page.getByRole(AriaRole.DIALOG).waitFor();
          Barriers.none(page, "an operation's sheet");
          page.keyboard().press("Escape");
          page.waitForURL(at -> at.endsWith("/operations?state=confirmed"));
          page.locator("tbody tr").first().waitFor();
        });
  }

  /** A table that never came to rest kept the page so busy that what was pressed did nothing. */
  @Test
  @Order(14)
  void of_a_list_longer_than_a_page_one_is_opened_after_scrolling() {
    asSomebody(
        "isa",
        ColorScheme.LIGHT,
        1280,
        page -> {
          page.navigate("/operations");
          var list =
              page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("Operations"));
          list.hover();
          page.mouse().wheel(0, 600);
          page.waitForTimeout(400);
          list.locator("tbody a").nth(20).click();
          page.getByRole(AriaRole.DIALOG).waitFor();
        });
  }
}
