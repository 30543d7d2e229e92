package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.SearchScope;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/**
 * Kills drawn by chance while people come, move and leave. Their twins lived the same lives before,
 * undisturbed: in the end both have the same in the directory and in the application, the directory
 * is entry for entry what Glenmoor says it is, nobody was lost or doubled, and no moment of the
 * record answers twice.
 */
@AnyDay
@Order(11)
class ChanceTest {
  private static final int PEOPLE = 40;
  private static final int ROUNDS = 4;
  private static final int TRIES = 5;
  private static final String TWINS = "U";
  private static final String KILLED = "C";
  private static final List<String> VICTIMS =
      List.of("service", "service", "database", "directory", "standins");
  private static final List<String> PLACES = List.of("Tarn Point", "Westholm", "Gull Sound");

  private static String sql(String query) {
    var database = Demo.running().places().path("database");
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

  /** Round by round somebody comes, half of them move, and every fifth of those there leaves. */
  private static String lives(String who, int round) {
    var text = new StringBuilder();
    for (var i = 0; i < PEOPLE * (round + 1) / ROUNDS; i++) {
      var place = PLACES.get((i * 7 + (i % 2) * round) % PLACES.size());
      var wasThere = i < PEOPLE * round / ROUNDS;
      var end = i % 5 == 0 && round > 1 && wasThere ? "2027-03-01" : "";
      text.append(
          "%s-%03d,E,Rós,%sbay%s,Freight,stevedore,1,%s,,2027-02-01,%s,,,\r\n"
              .formatted(who, i, who, Character.toString('a' + i % 7), place, end));
    }
    return text.toString();
  }

  private static String feed(String lives) throws IOException {
    var text = KilledTest.joiners().append(lives);
    return Files.writeString(Files.createTempFile("chance", ".csv"), text).toString();
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
      Demo.glenmoor("feeds", "load", feed(lives(TWINS, round)));
      Demo.allConfirmed();
    }
    for (var round = 0; round < ROUNDS; round++) {
      var file = feed(lives(TWINS, ROUNDS - 1) + lives(KILLED, round));
      var loading = new Thread(() -> Demo.running().glenmoor("feeds", "load", file));
      loading.start();
      Thread.sleep(chance.nextInt(4_000));
      kill(VICTIMS.get(chance.nextInt(VICTIMS.size())));
      Thread.sleep(chance.nextInt(1_500));
      Demo.glenmoor("demo", "--detach");
      loading.join();
      // Nobody knows whether it was taken; bringing it again must be harmless. A database that was
      // killed may still be coming up.
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
    assertThat(inTheDirectory(KILLED)).hasSize(PEOPLE).isEqualTo(inTheDirectory(TWINS));
    assertThat(inChartshare(KILLED)).isNotEmpty().isEqualTo(inChartshare(TWINS));
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

  /** What is there for people whose numbers begin so; of twins, both give the same. */
  private static Map<String, String> inTheDirectory(String who) throws LDAPException {
    var there = new TreeMap<String, String>();
    everyEntry()
        .forEach((worker, entry) -> {
          if (worker.startsWith(who + "-")) {
            there.put(worker.substring(1), twin(entry.dn() + entry.said() + entry.mail(), who));
          }
        });
    return there;
  }

  private record Entry(String dn, String said, String mail) {}

  /**
   * Every entry by its worker number: name, state and groups. Which groups is asked of the groups:
   * what an entry says of its own groups is written by the directory afterwards, and may be lost
   * when it is killed.
   */
  private static Map<String, Entry> everyEntry() throws LDAPException {
    var there = new TreeMap<String, Entry>();
    try (var directory = Demo.directory()) {
      var groups = new HashMap<String, Set<String>>();
      for (var group :
          directory
              .search("ou=groups," + Demo.BASE, SearchScope.SUB, "(member=*)", "cn", "member")
              .getSearchEntries()) {
        for (var member : group.getAttributeValues("member")) {
          groups
              .computeIfAbsent(DN.normalize(member), dn -> new TreeSet<>())
              .add(group.getAttributeValue("cn"));
        }
      }
      var people =
          directory.search(
              "ou=people," + Demo.BASE,
              SearchScope.SUB,
              "(employeeNumber=*)",
              "uid",
              "employeeNumber",
              "mail",
              "pwdAccountLockedTime");
      for (var entry : people.getSearchEntries()) {
        var said =
            String.join(
                " ",
                entry.getAttributeValue("uid"),
                entry.hasAttribute("pwdAccountLockedTime") ? "disabled" : "enabled",
                String.join(",", groups.getOrDefault(DN.normalize(entry.getDN()), Set.of())));
        var before =
            there.put(
                entry.getAttributeValue("employeeNumber"),
                new Entry(entry.getDN(), said, entry.getAttributeValue("mail")));
        assertThat(before).as("one entry a worker number").isNull();
      }
    }
    return there;
  }

  private static Map<String, String> inChartshare(String who) {
    var there = new TreeMap<String, String>();
    for (var i = 0; i < PEOPLE; i++) {
      var worker = "%s-%03d".formatted(who, i);
      var user = Demo.user("chartshare", worker);
      if (!user.isMissingNode()) {
        var groups = new TreeSet<String>();
        user.path("groups").forEach(group -> groups.add(group.path("display").asString()));
        there.put(
            worker.substring(1),
            twin("%s %s %s".formatted(user.path("userName"), user.path("active"), groups), who));
      }
    }
    return there;
  }

  private static String twin(String said, String who) {
    return said.toLowerCase(Locale.ROOT).replace(who.toLowerCase(Locale.ROOT) + "bay", "_bay");
  }

  private static void everyEntryIsAsRecorded() throws LDAPException {
    var recorded = new TreeMap<String, String>();
    sql("select p.worker_number, a.name, a.seen_state, coalesce((select group_concat(substring_index(h.entitlement, '/', -1) order by h.entitlement) from holding h where h.account_id = a.id and h.observed), '') from account a join person p on p.id = a.person_id where a.application = 'directory' and a.seen_state != 'none'")
        .lines()
        .forEach(line -> {
          var cells = line.split("\t", -1);
          recorded.put(cells[0], String.join(" ", cells[1], cells[2], cells[3]));
        });
    var there = new TreeMap<String, String>();
    everyEntry().forEach((worker, entry) -> there.put(worker, entry.said()));
    assertThat(there).isEqualTo(recorded);
  }
}
