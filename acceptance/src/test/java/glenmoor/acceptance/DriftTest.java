package glenmoor.acceptance;

import static glenmoor.acceptance.Demo.BASE;
import static glenmoor.acceptance.Demo.entry;
import static glenmoor.acceptance.Demo.eventually;
import static glenmoor.acceptance.Demo.glenmoor;
import static glenmoor.acceptance.Demo.groups;
import static glenmoor.acceptance.Demo.json;
import static glenmoor.acceptance.Demo.refused;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import tools.jackson.databind.JsonNode;

/**
 * The Harbour Directory is changed behind Glenmoor's back; every difference is found and answered.
 */
@Order(8)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class DriftTest {
  private static final String UNA = "W-01007";
  private static final String PRINTER = "uid=bridge-printer,ou=people," + BASE;

  private static void modify(String dn, ModificationType type, String attribute, String... values) {
    try (var directory = Demo.directory()) {
      directory.modify(dn, new Modification(type, attribute, values));
    } catch (LDAPException failed) {
      throw new IllegalStateException(failed);
    }
  }

  @AfterAll
  static void takeAwayWhatWasAdded() throws Exception {
    try (var directory = Demo.directory()) {
      if (directory.getEntry(PRINTER) != null) {
        directory.delete(PRINTER);
      }
    }
  }

  private static String group(String name) {
    return "cn=" + name + ",ou=groups," + BASE;
  }

  private static JsonNode drift(String kind) {
    var items = json("drift", "list", "--application", "directory", "--kind", kind).path("items");
    assertThat(items).as(kind).hasSize(1);
    return items.path(0);
  }

  private static String id(String kind) {
    return drift(kind).path("id").asString();
  }

  @Test
  @Order(1)
  void a_directory_that_nobody_touched_differs_in_nothing() {
    assertThat(glenmoor("reconciles", "run", "directory")).contains("0 differences are open");
    for (var application : List.of("quaybook", "chartshare")) {
      assertThat(json("reconciles", "run", application).path("accounts").asInt()).isPositive();
    }
    assertThat(json("drift", "list").path("items")).isEmpty();
  }

  @Test
  @Order(2)
  void what_was_changed_by_hand_is_found_and_what_the_definition_says_is_done() throws Exception {
    var dn = entry(UNA).getDN();
    modify(group("finance"), ModificationType.ADD, "member", dn);
    modify(group("crew"), ModificationType.DELETE, "member", dn);
    modify(dn, ModificationType.REPLACE, "title", "Admiral");
    try (var directory = Demo.directory()) {
      directory.add(
          "dn: " + PRINTER,
          "objectClass: inetOrgPerson",
          "uid: bridge-printer",
          "cn: Bridge printer",
          "sn: printer");
    }
    assertThat(glenmoor("reconciles", "run", "directory"))
        .contains("1 repaired at once")
        .contains("3 differences are open");
    eventually(
        "the title is as it should be",
        () -> !"Admiral".equals(entry(UNA).getAttributeValue("title")));
    assertThat(drift("extra-entitlement").path("found").path("entitlement").asString())
        .isEqualTo("directory/finance");
    assertThat(drift("missing-entitlement").path("worker").asString()).isEqualTo(UNA);
    assertThat(json("drift", "show", id("stray-account")).path("account").asString())
        .isEqualTo("bridge-printer");
  }

  @Test
  @Order(3)
  void each_difference_is_answered_with_a_reason() {
    assertThat(refused("drift", "attach", id("stray-account"), UNA, "--reason", "hers"))
        .contains("already");
    assertThat(Demo.entries(UNA)).as("nothing was written into the stray one").hasSize(1);
    glenmoor(
        "drift",
        "declare",
        id("stray-account"),
        "--owner",
        UNA,
        "--purpose",
        "prints on the bridge");
    assertThat(glenmoor("drift", "service-accounts")).contains("bridge-printer").contains(UNA);
    glenmoor("drift", "repair", id("missing-entitlement"), "--reason", "taken by mistake");
    eventually("back in the crew", () -> groups(UNA).contains("crew"));
    try (var console = new Console(Demo.running().url());
        var window = console.window(ColorScheme.LIGHT, 1280, 800)) {
      var page = console.signedIn(window, "isa", Demo.running().password("isa"));
      page.navigate("/drift");
      page.locator("tbody a").first().click();
      page.getByLabel("Why", new Page.GetByLabelOptions().setExact(true)).fill("not hers");
      page.getByRole(
              AriaRole.BUTTON,
              new Page.GetByRoleOptions().setName("Repair: make it as it should be"))
          .click();
      page.getByText("repair ordered").first().waitFor();
    }
    eventually("out of finance", () -> !groups(UNA).contains("finance"));
    Demo.allConfirmed();
    assertThat(glenmoor("reconciles", "run", "directory")).contains("0 differences are open");
    assertThat(json("drift", "list", "--state", "settled").path("items").size())
        .isGreaterThanOrEqualTo(4);
  }
}
