package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.SearchScope;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/**
 * Kills drawn by chance while people come, move and leave: in the end the directory is, entry for
 * entry, what Glenmoor says it is, nobody was lost or doubled, and no moment of the record answers
 * twice.
 */
@Order(8)
class ChanceTest {
  private static final int PEOPLE = 40;
  private static final int ROUNDS = 4;
  private static final int TRIES = 90;
  private static final List<String> VICTIMS =
      List.of("service", "service", "database", "directory");
  private static final List<String> PLACES = List.of("Tarn Point", "Westholm", "Gull Sound");

  private static String sql(String query) {
    var database = Demo.running().status().path("database");
    var said =
        Demo.run(
            "mariadb",
            "--no-defaults",
            "--socket=" + database.path("socket").asString(),
            "-u",
            "root",
            "-N",
            "-B",
            "-e",
            query,
            "glenmoor");
    assertThat(said.exit()).as(said.err()).isZero();
    return said.out().strip();
  }

  /** Round by round somebody comes, half of them move, and every fifth leaves. */
  private static Path feed(int round) throws IOException {
    var text = KilledTest.joiners();
    for (var i = 0; i < PEOPLE * (round + 1) / ROUNDS; i++) {
      var place = PLACES.get((i * 7 + (i % 2) * round) % PLACES.size());
      var end = i % 5 == 0 && round > 1 ? "2027-03-01" : "";
      text.append(
          "C-%03d,E,Rós,Bay%s,Freight,stevedore,1,%s,,2027-02-01,%s,,,\r\n"
              .formatted(i, Character.toString('a' + i % 7), place, end));
    }
    return Files.writeString(Files.createTempFile("chance", ".csv"), text);
  }

  private static void kill(String victim) throws IOException {
    var file = Demo.running().home().resolve(victim + ".pid");
    var pid = Files.readString(file).strip();
    Demo.run("kill", "-9", pid);
    Demo.eventually(victim + " gone", () -> !Files.exists(Path.of("/proc", pid, "exe")));
  }

  @Test
  void whatever_is_killed_whenever_the_end_is_the_same() throws Exception {
    var seed = System.getenv("GLENMOOR_CHANCE");
    var chance = new Random(seed == null ? 20270701 : Long.parseLong(seed));
    for (var round = 0; round < ROUNDS; round++) {
      var file = feed(round).toString();
      var loading = new Thread(() -> Demo.running().glenmoor("feeds", "load", file));
      loading.start();
      Thread.sleep(chance.nextInt(4_000));
      kill(VICTIMS.get(chance.nextInt(VICTIMS.size())));
      Thread.sleep(chance.nextInt(1_500));
      Demo.glenmoor("demo", "--detach");
      loading.join();
      // Nobody knows whether it was taken; bringing it again must be harmless.
      // A feed whose service died is closed after a minute; until then its source is taken.
      for (var tries = 0; tries < TRIES; tries++) {
        if (Demo.running().glenmoor("feeds", "load", file).exit() == 0) {
          break;
        }
        assertThat(tries).as("the feed taken").isLessThan(TRIES - 1);
        Thread.sleep(1_000);
      }
    }
    Demo.allConfirmed();
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
    everyEntryIsAsRecorded();
    assertThat(sql("select count(*) from person where worker_number like 'C-%'"))
        .isEqualTo(String.valueOf(PEOPLE));
    assertThat(
            sql(
                "select count(*) from (select person_id, kind, count(*) n from event join person p on p.id = person_id where p.worker_number like 'C-%' and kind in ('joiner', 'leaver') group by 1, 2 having n > 1) twice"))
        .as("no event twice")
        .isEqualTo("0");
    assertThat(
            sql(
                "select count(*) from (select id, row_start s, row_end e from person for system_time all) a join (select id, row_start s, row_end e from person for system_time all) b on a.id = b.id and a.s < b.s and a.e > b.s"))
        .as("no moment at which somebody was two things")
        .isEqualTo("0");
  }

  private static void everyEntryIsAsRecorded() throws LDAPException {
    var recorded = new TreeMap<String, String>();
    sql("select p.worker_number, a.name, a.seen_state, coalesce((select group_concat(substring_index(h.entitlement, '/', -1) order by h.entitlement) from holding h where h.account_id = a.id and h.held), '') from account a join person p on p.id = a.person_id where a.application = 'directory' and a.seen_state != 'none'")
        .lines()
        .forEach(line -> {
          var cells = line.split("\t", -1);
          recorded.put(cells[0], String.join(" ", cells[1], cells[2], cells[3]));
        });
    var there = new TreeMap<String, String>();
    try (var directory = Demo.directory()) {
      for (var entry :
          directory
              .search(
                  "ou=people," + Demo.BASE,
                  SearchScope.SUB,
                  "(employeeNumber=*)",
                  "uid",
                  "employeeNumber",
                  "memberOf",
                  "pwdAccountLockedTime")
              .getSearchEntries()) {
        var groups = entry.getAttributeValues("memberOf");
        var names = new TreeSet<String>();
        Arrays.stream(groups == null ? new String[0] : groups)
            .forEach(dn -> names.add(dn.replaceAll("cn=([^,]*),.*", "$1")));
        var before =
            there.put(
                entry.getAttributeValue("employeeNumber"),
                String.join(
                    " ",
                    entry.getAttributeValue("uid"),
                    entry.hasAttribute("pwdAccountLockedTime") ? "disabled" : "enabled",
                    String.join(",", names)));
        assertThat(before).as("one entry a worker number").isNull();
      }
    }
    assertThat(there).isEqualTo(recorded);
  }
}
