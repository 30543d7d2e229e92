package glenmoor.acceptance;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.LoadState;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;

/**
 * Takes the pictures of the docs from the demo that runs.
 *
 * <p>Arguments: the checkout, the demo's home, where to put the pictures, and optionally names:
 * only those.
 */
public final class Screenshots {
  private static final int SETTLE_MILLIS = 1_500;
  private static final int MOST_LOOKS = 60;

  private record Shot(
      String name, String address, String by, ColorScheme scheme, int width, int height) {
    static Shot of(String name, String address) {
      return new Shot(name, address, "isa", ColorScheme.LIGHT, 1280, 800);
    }

    /**
     * One that is asked for by its address: {@code /held}, or as somebody {@code tam@/requests}.
     */
    static Shot asked(String words) {
      var at = words.indexOf("@/");
      var by = at > 0 ? words.substring(0, at) : "isa";
      var phone = words.endsWith("#phone");
      var address = words.substring(at > 0 ? at + 1 : 0).replace("#phone", "");
      var name = words.replaceAll("\\W+", "-").replaceFirst("^-", "");
      var shot = of(name, address).by(by);
      return phone ? shot.phone() : shot;
    }

    Shot by(String login) {
      return new Shot(name, address, login, scheme, width, height);
    }

    Shot dark() {
      return new Shot(name, address, by, ColorScheme.DARK, width, height);
    }

    Shot phone() {
      return new Shot(name, address, by, scheme, 390, 844);
    }
  }

  private static final List<Shot> SHOTS =
      List.of(
          Shot.of("today", "/"),
          Shot.of("people", "/people?department=Deck+%26+Navigation"),
          Shot.of("person", "/people/W-01007"),
          Shot.of("run", "/people/W-00905?tab=runs"),
          Shot.of("flow", "/flow"),
          Shot.of("cut-off", "/cut-off/W-01010"),
          Shot.of("feed", "/feeds"),
          Shot.of("forecast", "/feeds?load=yes"),
          Shot.of("review", "/reviews").by("rhona"),
          Shot.of("round", "/campaigns").dark(),
          Shot.of("request", "/requests?tab=waiting").by("emre"),
          Shot.of("ledger", "/ledger?subject=kerrow"),
          Shot.of("held", "/held"),
          Shot.of("conflicts", "/conflicts"),
          Shot.of("tasks", "/tasks"),
          Shot.of("drift", "/drift"),
          Shot.of("application", "/applications/directory?tab=accounts"),
          Shot.of("phone", "/").by("una").phone());

  private Screenshots() {}

  public static void main(String[] arguments) {
    var running = new Running(Path.of(arguments[0]), Path.of(arguments[1]));
    var to = Path.of(arguments[2]);
    var only = List.of(arguments).subList(3, arguments.length);
    try (var console = new Console(running.url())) {
      if (only.isEmpty() || !only.stream().allMatch(each -> each.contains("/"))) {
        prepare(running);
      }
      if (only.isEmpty() || only.contains("sign-in")) {
        signIn(console, to);
      }
      for (var shot : SHOTS) {
        if (only.isEmpty() || only.contains(shot.name())) {
          take(console, running, shot, to);
        }
      }
      for (var address : only) {
        if (address.contains("/")) {
          take(console, running, Shot.asked(address), to);
        }
      }
    } finally {
      Console.endAll();
    }
  }

  /**
   * The pictures are of an April that was carried out, a July that a brake holds, a first mate who
   * was cut off, and a directory that somebody has changed by hand.
   */
  private static void prepare(Running running) {
    var feeds = running.glenmoor("feeds", "list", "--output", "json").json().path("items");
    if (feeds
        .valueStream()
        .noneMatch(feed -> feed.path("fileName").asString().contains("2027-04"))) {
      running.glenmoor("feeds", "load", running.scenario("feeds/2027-04.csv").toString());
    }
    if (isEmpty(running, "held", "list", "--state", "held")) {
      running.glenmoor("feeds", "load", running.scenario("feeds/2027-07.csv").toString());
    }
    if (isEmpty(running, "cut-off", "list")) {
      running.glenmoor("cut-off", "now", "W-01010", "--reason", "asked for by the harbour master");
    }
    if (isEmpty(running, "drift", "list")) {
      changedByHand(running);
      running.glenmoor("reconciles", "run", "directory");
    }
    // Tonight's file for the Mishap Book, at once; there may be nothing to write.
    running.glenmoor("exchange", "write", "mishap-book");
    for (var tries = 0; tries < MOST_LOOKS; tries++) {
      if (isEmpty(running, "operations", "list", "--state", "waiting", "--limit", "1")) {
        return;
      }
    }
    throw new IllegalStateException("Operations still wait: is an application away?");
  }

  private static void changedByHand(Running running) {
    var at = running.status().path("directory");
    var base = at.path("base").asString();
    try {
      var changes =
          Files.writeString(
              Files.createTempFile("by-hand", ".ldif"),
              """
              dn: cn=finance,ou=groups,%1$s
              changetype: modify
              add: member
              member: uid=kerrowu,ou=hallow-quay,ou=people,%1$s

              dn: cn=crew,ou=groups,%1$s
              changetype: modify
              delete: member
              member: uid=kerrowu,ou=hallow-quay,ou=people,%1$s

              dn: uid=bridge-printer,ou=people,%1$s
              changetype: add
              objectClass: inetOrgPerson
              uid: bridge-printer
              cn: Bridge printer
              sn: printer
              """
                  .formatted(base));
      running.run(
          List.of(
              "ldapmodify",
              "-c",
              "-x",
              "-H",
              at.path("url").asString(),
              "-D",
              at.path("bindDn").asString(),
              "-y",
              at.path("passwordFile").asString(),
              "-f",
              changes.toString()));
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private static boolean isEmpty(Running running, String... list) {
    var words = Arrays.copyOf(list, list.length + 2);
    words[list.length] = "--output";
    words[list.length + 1] = "json";
    return running.glenmoor(words).json().path("items").isEmpty();
  }

  private static void signIn(Console console, Path to) {
    try (var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = window.newPage();
      page.navigate("/sign-in");
      save(page, to.resolve("sign-in.png"), false);
    }
  }

  private static void take(Console console, Running running, Shot shot, Path to) {
    try (var window = console.window(shot.scheme(), shot.width(), shot.height())) {
      var page = console.signedIn(window, shot.by(), running.password(shot.by()));
      page.navigate(shot.address());
      if (shot.name().equals("forecast")) {
        page.locator("input[type=file]").setInputFiles(running.scenario("feeds/2027-05.csv"));
        page.getByText("nothing was done yet").waitFor();
      }
      if (shot.name().equals("feed")) {
        page.getByText("rejected").first().click();
        page.getByText("expected").first().waitFor();
      }
      if (shot.name().equals("request")) {
        page.getByText("the whole story").first().click();
        page.getByText("What was said and done").waitFor();
      }
      if (shot.name().equals("run")) {
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Leaver"))
            .first()
            .click();
        page.getByText("Step by step").waitFor();
      }
      if (shot.name().equals("review")) {
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Judge")).last().click();
        page.getByText("you have judged").waitFor();
      }
      if (shot.name().equals("round")) {
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("open")).first().click();
        page.getByText("Who is how far").waitFor();
      }
      if (shot.name().equals("held")) {
        page.getByText("2027-07.csv").first().click();
        page.getByText("What it would do").waitFor();
      }
      save(page, to.resolve(shot.name() + ".png"), shot.name().equals("parts"));
    }
  }

  private static void save(Page page, Path file, boolean whole) {
    page.waitForLoadState(LoadState.DOMCONTENTLOADED);
    // Where a row was clicked to sign in, another would be shown as pointed at.
    page.mouse().move(0, 0);
    page.waitForTimeout(SETTLE_MILLIS);
    if (whole) {
      // The page scrolls inside its frame: a window as high as the content shows all of it.
      var height = page.evaluate("document.querySelector('main').scrollHeight + 60");
      page.setViewportSize(1280, ((Number) height).intValue());
      page.waitForTimeout(SETTLE_MILLIS);
    }
    page.screenshot(new Page.ScreenshotOptions().setPath(file));
    System.out.println(file);
  }
}
