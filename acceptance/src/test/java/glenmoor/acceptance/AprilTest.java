package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import java.nio.file.Files;
import java.util.List;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/**
 * The second month: joiners, movers, leavers, a corrected spelling and rows that cannot be used.
 */
@Order(2)
class AprilTest {
  private static final String JOINER = "W-01264";
  private static final String FUTURE = "W-01265";
  private static final String MOVER = "W-01007";
  private static final String LEAVER = "W-01056";
  private static final String CREW = "cn=crew,ou=groups," + Demo.BASE;

  @Test
  @Order(1)
  void the_forecast_says_what_would_happen_and_nothing_does() {
    var forecast = Demo.json("feeds", "load", Demo.feed("2027-04"), "--forecast");
    assertThat(forecast.path("events").path("joiner").asInt()).isEqualTo(3);
    assertThat(forecast.path("events").path("mover").asInt()).isEqualTo(3);
    assertThat(forecast.path("events").path("leaver").asInt()).isEqualTo(3);
    assertThat(forecast.path("sum").path("operations").asInt()).isEqualTo(53);
    assertThat(Demo.entries(JOINER)).isEmpty();
    assertThat(Demo.json("events", "list", "--kind", "mover").path("items")).isEmpty();
  }

  private static JsonNode operations(String event, String state) {
    return Demo.api("/operations?event=" + event + "&state=" + state + "&limit=200").path("items");
  }

  @Test
  @Order(2)
  void loading_does_exactly_what_was_forecast() {
    ownCrew(Demo.entry(LEAVER).getDN());
    var loaded = Demo.json("feeds", "load", Demo.feed("2027-04"));
    assertThat(loaded.path("rejected").asInt()).isEqualTo(7);
    Demo.allConfirmed();
    var operations = 0;
    for (var event :
        Demo.json("events", "list", "--feed", loaded.path("feed").asString()).path("items")) {
      operations += event.path("operations").asInt();
      var id = event.path("id").asString();
      var tasks = operations(id, "task").size();
      // Whether somebody's account in the Radio Room was made is asked once; until that is answered
      // there is nothing to delete.
      var unasked = operations(id, "superseded");
      assertThat(unasked)
          .allMatch(operation ->
              operation.path("application").asString().equals("radio-room")
                  && operation.path("reason").asString().startsWith("the account is gone"));
      assertThat(event.path("confirmed").asInt() + tasks + unasked.size())
          .isEqualTo(event.path("operations").asInt());
    }
    assertThat(operations).isEqualTo(53);
  }

  @Test
  @Order(3)
  void a_joiner_can_sign_in_to_the_directory() {
    // Whoever begins today has a passcode set by the playbook; the one asked for here comes after
    // it.
    Demo.eventually(
        "the playbook's passcode was told",
        () -> Demo.api("/messages?worker=" + JOINER + "&state=sent").path("items").size() > 0);
    assertThat(Demo.json("letters", "list", "--worker", JOINER, "--state", "sent").path("items"))
        .isNotEmpty();
    var issued = Demo.json("people", "passcode", JOINER);
    var dn = Demo.entry(JOINER).getDN();
    assertThat(dn).isEqualTo("uid=saetheri,ou=hallow-quay,ou=people," + Demo.BASE);
    assertThat(Demo.canBind(dn, issued.path("passcode").asString())).isTrue();
    assertThat(Demo.canBind(dn, "not-the-passcode")).isFalse();
  }

  @Test
  @Order(4)
  void a_mover_has_the_new_departments_groups_and_not_the_old() {
    assertThat(Demo.groups(MOVER)).contains("engine-room", "at-hallow-quay", "crew");
    assertThat(Demo.groups(MOVER)).doesNotContain("deck-navigation");
    assertThat(Demo.entry(MOVER).getDN()).contains("ou=hallow-quay");
    assertThat(Demo.user("quaybook", MOVER).path("active").asBoolean()).isFalse();
  }

  @Test
  @Order(5)
  void a_leaver_cannot_sign_in_and_has_no_groups_even_with_a_new_passcode() {
    assertThat(Demo.groups(LEAVER)).isEmpty();
    var issued = Demo.json("people", "passcode", LEAVER);
    var dn = Demo.entry(LEAVER).getDN();
    assertThat(Demo.canBind(dn, issued.path("passcode").asString())).isFalse();
    assertThat(Demo.user("chartshare", LEAVER).path("active").asBoolean()).isFalse();
  }

  @Test
  @Order(6)
  void the_groups_a_leaver_looked_after_in_the_directory_are_their_managers() {
    var manager = Demo.entry("W-01053").getDN();
    Demo.eventually("handed over", () -> ownersOfCrew().equals(List.of(manager)));
    var run = Demo.json("runs", "list", "--playbook", "leaver", "--worker", LEAVER).path("items");
    Demo.eventually(
        "told",
        () ->
            Demo.api("/runs/" + run.get(0).path("id").asString())
                .toString()
                .contains("in directory cn=crew,ou=groups," + Demo.BASE + ": now with " + manager));
  }

  private static void ownCrew(String dn) {
    try (var directory = Demo.directory()) {
      directory.modify(CREW, new Modification(ModificationType.REPLACE, "owner", dn));
    } catch (LDAPException failed) {
      throw new IllegalStateException(failed);
    }
  }

  private static List<String> ownersOfCrew() {
    try (var directory = Demo.directory()) {
      return List.of(directory.getEntry(CREW, "owner").getAttributeValues("owner"));
    } catch (LDAPException failed) {
      throw new IllegalStateException(failed);
    }
  }

  @Test
  @Order(6)
  void a_corrected_spelling_renames_the_account_and_touches_no_access() {
    assertThat(Demo.entry("W-01055").getAttributeValue("uid")).isEqualTo("nowake");
    assertThat(Demo.groups("W-01055")).contains("crew", "engine-room");
    assertThat(Demo.user("chartshare", "W-01055").path("userName").asString())
        .isEqualTo("nowake@skerryline.example");
  }

  @Test
  @Order(7)
  void why_goes_from_the_facts_to_the_right() {
    assertThat(Demo.glenmoor("people", "why", MOVER, "directory/engine-room").lines())
        .anyMatch(line -> line.contains("Department: Engine Room"))
        .anyMatch(line -> line.contains("→ birthright   engine-room"))
        .anyMatch(line -> line.contains("→ account      kerrowu in Harbour Directory"));
    assertThat(Demo.glenmoor("people", "why", MOVER, "directory/deck-navigation"))
        .contains("does not hold")
        .contains("ended: facts no longer meet the birthright");
  }

  @Test
  @Order(8)
  void rows_set_aside_say_line_column_found_and_expected_and_can_be_saved() throws Exception {
    var feed = Demo.json("feeds", "list").path("items").get(0).path("id").asString();
    var file = Files.createTempFile("rejects", ".csv");
    Demo.glenmoor("feeds", "rejects", feed, "--to", file.toString());
    assertThat(Files.readAllLines(file))
        .hasSize(8)
        .contains("line,worker,column,found,expected")
        .anyMatch(line -> line.startsWith("196,W-01196,First day,2019-13-05,"))
        .anyMatch(line -> line.startsWith("241,W-01241,Reports to,W-09999,"))
        .anyMatch(line -> line.startsWith("267,W-01777,,5 columns,"));
  }

  @Test
  @Order(9)
  void the_same_file_again_is_no_event() {
    assertThat(Demo.json("feeds", "load", Demo.feed("2027-04")).path("events")).isEmpty();
  }

  @Test
  @Order(10)
  void a_broken_file_changes_nothing_and_says_why() throws Exception {
    var text = Files.readString(Demo.running().scenario("feeds/2027-04.csv"));
    var unclosed = Files.writeString(Files.createTempFile("unclosed", ".csv"), text + "\"W-09");
    assertThat(Demo.refused("feeds", "load", unclosed.toString())).contains("breaks off");
    var headless =
        Files.writeString(
            Files.createTempFile("headless", ".csv"), text.replaceFirst("Reports to", "Boss"));
    assertThat(Demo.refused("feeds", "load", headless.toString())).contains("no column Reports to");
    var empty = Files.createTempFile("empty", ".csv");
    assertThat(Demo.refused("feeds", "load", empty.toString())).contains("empty");
    assertThat(Demo.json("people", "list", "--count", "--standing", "left").path("total").asInt())
        .isEqualTo(2);
  }

  @Test
  @Order(11)
  void the_clock_brings_the_future_joiner_without_any_feed() {
    assertThat(Demo.entries(FUTURE)).isEmpty();
    Demo.glenmoor("clock", "advance", "14d");
    assertThat(Demo.locked(FUTURE)).as("made ready seven days before").isTrue();
    assertThat(Demo.groups(FUTURE)).isEmpty();
    Demo.glenmoor("clock", "advance", "16d");
    assertThat(Demo.locked(FUTURE)).as("enabled on the day").isFalse();
    assertThat(Demo.groups(FUTURE)).contains("crew", "passenger-services", "at-westholm");
  }

  @Test
  @Order(12)
  void what_fell_due_happened_at_its_own_moment() {
    var entries = Demo.json("ledger", "list", "--worker", FUTURE, "--limit", "200").path("items");
    var created = 0;
    for (var entry : entries) {
      var after = entry.path("entry").path("after");
      if (entry.path("actor").asString().equals("connector:directory")
          && after.path("kind").asString("").equals("create")) {
        assertThat(entry.path("at").asString()).startsWith("2027-03-15T00:00:0");
        created++;
      }
      if (entry.path("actor").asString().equals("connector:directory")
          && after.path("kind").asString("").equals("enable")) {
        assertThat(entry.path("at").asString()).startsWith("2027-03-22T00:00:0");
        created++;
      }
    }
    assertThat(created).isEqualTo(2);
  }
}
