package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** The demo is there: everybody who works has an account in the real directory. */
@Order(1)
class FirstMorningTest {

  @Test
  @Order(1)
  void everybody_who_works_has_one_account_in_slapd() {
    Demo.allConfirmed();
    var directory = Demo.running().status().path("directory");
    var said =
        Demo.run(
            "ldapsearch",
            "-x",
            "-LLL",
            "-H",
            directory.path("url").asString(),
            "-D",
            directory.path("bindDn").asString(),
            "-w",
            Demo.read(directory.path("passwordFile")),
            "-b",
            "ou=people," + Demo.BASE,
            "(uid=*)",
            "uid");
    assertThat(said.out().lines().filter(line -> line.startsWith("uid: "))).hasSize(244);
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
  }

  @Test
  @Order(2)
  void two_people_with_one_name_have_two_account_names() {
    var found = Demo.json("people", "list", "Jonas Holm");
    var names =
        found
            .path("items")
            .valueStream()
            .map(person -> person.path("worker").asString())
            .map(worker -> Demo.entry(worker).getAttributeValue("uid"))
            .sorted()
            .toList();
    assertThat(names).containsExactly("holmj", "holmj2");
  }

  @Test
  @Order(3)
  void names_of_every_script_have_an_account_name_of_plain_letters() {
    for (var name : new String[] {"Волков", "Παππά", "森", "حداد", "Tóra"}) {
      var worker =
          Demo.json("people", "list", name).path("items").path(0).path("worker").asString();
      assertThat(Demo.entry(worker).getAttributeValue("uid")).as(name).matches("[a-z0-9]+");
    }
  }

  @Test
  @Order(4)
  void whoever_is_on_leave_cannot_sign_in_but_keeps_their_groups() {
    var onLeave = Demo.json("people", "list", "--standing", "on-leave").path("items").path(0);
    var worker = onLeave.path("worker").asString();
    assertThat(Demo.locked(worker)).isTrue();
    assertThat(Demo.groups(worker)).contains("crew", "finance");
  }

  @Test
  @Order(5)
  void a_partner_has_no_birthright_and_no_account() {
    assertThat(Demo.entries("W-01256")).isEmpty();
  }

  @Test
  @Order(6)
  void the_stand_in_has_the_same_people() {
    var una = Demo.user("quaybook", "W-01007");
    assertThat(una.path("active").asBoolean()).isTrue();
    assertThat(una.path("roles").get(0).path("value").asString()).isEqualTo("READ_MANIFEST");
  }

  @Test
  @Order(7)
  void status_tells_a_script_everything() {
    var status = Demo.running().status();
    assertThat(status.path("service").path("up").asBoolean()).isTrue();
    assertThat(status.path("database").path("passwordFile").asString()).isNotEmpty();
    assertThat(status.path("standins").propertyNames()).contains("quaybook", "chartshare");
    assertThat(status.path("people").get(0).path("duties").get(0).asString())
        .isEqualTo("administrator");
  }

  @Test
  @Order(8)
  void applications_answer_a_test() {
    assertThat(Demo.glenmoor("applications", "test", "directory"))
        .contains("244 accounts there, 244 known to Glenmoor");
    assertThat(Demo.refused("applications", "test", "nowhere")).contains("There is no application");
  }

  @Test
  @Order(9)
  void definitions_dumped_are_the_definitions_loaded() throws Exception {
    var dump = Files.createTempFile("dump", ".yaml");
    Files.writeString(dump, Demo.glenmoor("define", "dump"));
    assertThat(Demo.glenmoor("define", "diff", dump.toString(), "--replace"))
        .contains("Nothing is different.");
  }
}
