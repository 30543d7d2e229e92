package glenmoor.acceptance;

import static glenmoor.acceptance.Demo.glenmoor;
import static glenmoor.acceptance.Demo.json;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;

/** An application with a database of its own, and one that only people can look into. */
@Order(8)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class EveryKindTest {
  private static String sql(String query) {
    return Demo.running().sql(query);
  }

  @Test
  @Order(1)
  void slipworks_own_tables_say_what_glenmoor_says() {
    var theirs =
        sql(
            "select group_concat(concat(u.staff_no, ' ', u.login, ' ', u.active, ' ', coalesce(p.held, '')) order by u.staff_no separator '\\n') from slipworks.users u left join (select user_id, group_concat(permission order by permission) as held from slipworks.user_permissions group by user_id) p on p.user_id = u.id");
    var ours =
        sql(
            "select group_concat(concat(p.worker_number, ' ', a.seen_name, ' ', a.seen_state = 'enabled', ' ', coalesce(h.held, '')) order by p.worker_number separator '\\n') from account a join person p on p.id = a.person_id left join (select account_id, group_concat(case entitlement when 'slipworks/read-jobs' then 'READ_JOBS' when 'slipworks/work-jobs' then 'WORK_JOBS' else 'PLAN_SLIPS' end order by 1) as held from holding where observed group by account_id) h on h.account_id = a.id where a.application = 'slipworks' and a.seen_state != 'none'");
    assertThat(theirs).isNotBlank().contains("READ_JOBS");
    assertThat(sorted(theirs)).isEqualTo(sorted(ours));
  }

  /** The rights in each line in one order, however the database gave them. */
  private static List<String> sorted(String lines) {
    return Arrays.stream(lines.split("\\\\n|\n"))
        .map(line -> {
          var at = line.lastIndexOf(' ');
          var rights = line.substring(at + 1).split(",");
          Arrays.sort(rights);
          return line.substring(0, at) + " " + String.join(",", rights);
        })
        .sorted()
        .toList();
  }

  @Test
  @Order(2)
  void what_the_radio_officers_have_to_do_is_said_and_done_when_they_say_so() {
    var open = json("tasks", "list", "--application", "radio-room", "--all").path("items");
    assertThat(open.size()).isGreaterThan(1);
    var first =
        open.valueStream()
            .filter(task -> task.path("kind").asString().equals("add"))
            .findFirst()
            .orElseThrow();
    assertThat(first.path("reason").asString())
        .startsWith("Give “hand-held radio, bridge channel”");
    var worker = first.path("worker").asString();
    for (var task : open) {
      if (task.path("worker").asString().equals(worker)) {
        glenmoor("tasks", "done", task.path("id").asString(), "--reason", "handed out at the desk");
      }
    }
    assertThat(json("tasks", "list", "--worker", worker).path("items")).isEmpty();
    assertThat(glenmoor("people", "why", worker, "radio-room/hand-held"))
        .contains("holds “Hand-held radio”, confirmed");
  }

  @Test
  @Order(3)
  void several_tasks_are_decided_at_once_in_the_console() {
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "kofi", Demo.running().password("kofi"));
      page.navigate("/tasks?kind=task");
      page.locator("main li input").first().waitFor();
      var boxes = page.locator("main li input");
      var before = boxes.count();
      boxes.nth(0).check();
      boxes.nth(1).check();
      page.getByLabel("What was done, or why it need not be").fill("handed out");
      page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("Done by hand")).click();
      page.waitForCondition(() -> page.locator("main li input").count() == before - 2);
    }
  }
}
