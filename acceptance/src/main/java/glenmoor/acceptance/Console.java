package glenmoor.acceptance;

import com.microsoft.playwright.Browser;
import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.Cookie;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Queue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;

/**
 * The console in a real browser: the system's Chromium, without a screen. Browsers are used again,
 * as it takes seconds to start one; each use begins in a window of its own, and no two go on in the
 * same one.
 */
public final class Console implements AutoCloseable {
  private static final List<String> FLAGS =
      List.of(
          "--no-sandbox",
          "--disable-gpu",
          "--disable-quic",
          "--disable-background-networking",
          "--disable-component-update",
          "--disable-sync",
          "--no-first-run");

  private record Started(Playwright driver, Browser browser) {}

  private static final Queue<Started> IDLE = new ConcurrentLinkedQueue<>();

  /** Sessions that somebody has here, by where and who, to go on with in another window. */
  private static final Map<List<String>, List<Cookie>> SESSIONS = new ConcurrentHashMap<>();

  private final Started started;
  private final String url;

  public Console(String url) {
    this.url = url;
    var idle = IDLE.poll();
    started = idle != null && idle.browser().isConnected() ? idle : start();
  }

  private static Started start() {
    var driver =
        Playwright.create(
            new Playwright.CreateOptions().setEnv(Map.of("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")));
    return new Started(
        driver,
        driver
            .chromium()
            .launch(
                new BrowserType.LaunchOptions()
                    .setExecutablePath(Path.of("/usr/bin/chromium"))
                    .setArgs(FLAGS)));
  }

  /** A new window, signed out. */
  public BrowserContext window(ColorScheme scheme, int width, int height) {
    return started
        .browser()
        .newContext(
            new Browser.NewContextOptions()
                .setBaseURL(url)
                .setColorScheme(scheme)
                .setViewportSize(width, height)
                .setLocale("en-GB")
                .setTimezoneId("UTC"));
  }

  /**
   * A page in the window with somebody signed in: in the session that they have from before where
   * it still opens the console, by name and password otherwise.
   */
  public Page signedIn(BrowserContext window, String login, String password) {
    var page = window.newPage();
    var places = page.getByRole(AriaRole.NAVIGATION, new Page.GetByRoleOptions().setName("Places"));
    var name = page.getByLabel("Sign-in name");
    window.addCookies(SESSIONS.getOrDefault(List.of(url, login), List.of()));
    page.navigate("/");
    places.or(name).waitFor();
    if (name.isVisible()) {
      name.fill(login);
      page.getByLabel("Password").fill(password);
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Sign in")).click();
      page.waitForURL(address -> !address.contains("/sign-in"));
      // The address changes before the page does; keys pressed in between would go to the old one.
      places.waitFor();
      SESSIONS.put(List.of(url, login), window.cookies());
    }
    return page;
  }

  @Override
  public void close() {
    started.browser().contexts().forEach(BrowserContext::close);
    IDLE.add(started);
  }

  /** Ends the browsers that nobody uses; a program with one does not end by itself. */
  public static void endAll() {
    for (var idle = IDLE.poll(); idle != null; idle = IDLE.poll()) {
      idle.browser().close();
      idle.driver().close();
    }
  }
}
