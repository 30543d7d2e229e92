package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.args.AxeRunOptions;
import com.deque.html.axecore.playwright.AxeBuilder;
import com.microsoft.playwright.Page;
import java.util.List;

/**
 * What keeps people from using a page, as far as axe finds it. There may be none, however small.
 */
final class Barriers {
  private Barriers() {}

  /** The page as it is now has no barrier. */
  static void none(Page page, String where) {
    none(looking(page), where);
  }

  /** Its colours, at least, make none: what a page in the dark has other than in the light. */
  static void noneByColour(Page page, String where) {
    none(looking(page).withRules(List.of("color-contrast")), where);
  }

  private static AxeBuilder looking(Page page) {
    // To tell of all that is well, place by place, takes as long as finding what is not.
    var options = new AxeRunOptions();
    options.setResultTypes(List.of("violations"));
    // In the page itself: nothing here has frames, and a second page for each look takes seconds.
    return new AxeBuilder(page).options(options).setLegacyMode(true);
  }

  private static void none(AxeBuilder axe, String where) {
    var found =
        axe.analyze().getViolations().stream()
            .map(each -> each.getId() + ": " + each.getNodes().getFirst().getHtml())
            .toList();
    assertThat(found).as(where).isEmpty();
  }
}
