package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.args.AxeRunOptions;
import com.deque.html.axecore.playwright.AxeBuilder;
import com.microsoft.playwright.Page;
import java.util.List;

/** What keeps people from using a page: found by axe, and none of it may be serious. */
final class Barriers {
  private static final List<String> SERIOUS = List.of("serious", "critical");

  private Barriers() {}

  /** The page as it is now has no serious barrier. */
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
    var serious =
        axe.analyze().getViolations().stream()
            .filter(each -> SERIOUS.contains(each.getImpact()))
            .map(each -> each.getId() + ": " + each.getNodes().getFirst().getHtml())
            .toList();
    assertThat(serious).as(where).isEmpty();
  }
}
