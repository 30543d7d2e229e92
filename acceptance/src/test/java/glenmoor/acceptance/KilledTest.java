package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.SearchScope;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** The service dies in the middle of its work: nothing is lost and nothing is done twice. */
@AnyDay
@Order(10)
class KilledTest {
  private static final int JOINERS = 60;

  private static int arrived() {
    try (var directory = Demo.directory()) {
      return directory
          .search("ou=people," + Demo.BASE, SearchScope.SUB, "(employeeNumber=K-*)", "1.1")
          .getEntryCount();
    } catch (LDAPException failed) {
      throw new IllegalStateException(failed);
    }
  }

  /** June's file with many joiners behind it. */
  static StringBuilder joiners() throws IOException {
    var text = new StringBuilder(Files.readString(Demo.running().scenario("feeds/2027-06.csv")));
    for (var i = 0; i < JOINERS; i++) {
      text.append(
          "K-%03d,E,Kai,Dock%s,Freight,stevedore,1,Tarn Point,,2027-03-01,,,,\r\n"
              .formatted(i, Character.toString('a' + i % 20)));
    }
    return text;
  }

  @Test
  void after_sigkill_in_the_middle_every_account_is_there_exactly_once() throws Exception {
    var file = Files.writeString(Files.createTempFile("many", ".csv"), joiners());
    var pid = Demo.running().status().path("service").path("pid").asString();
    var loading = new Thread(() -> Demo.running().glenmoor("feeds", "load", file.toString()));
    loading.start();
    Demo.eventually("the first of them in the directory", () -> arrived() > 4);
    assertThat(Demo.run("kill", "-9", pid).exit()).isZero();
    var when = arrived();
    Demo.eventually("the service gone", () -> !Files.exists(Path.of("/proc", pid, "exe")));
    assertThat(when).as("killed in the middle").isLessThan(JOINERS);

    Demo.glenmoor("demo", "--detach");
    // The command waits for the service for a while, and goes on with it.
    loading.join();
    Demo.eventually("all of them in the directory", () -> arrived() == JOINERS);
    Demo.allConfirmed();
    var names = new ArrayList<String>();
    for (var i = 0; i < JOINERS; i++) {
      var worker = "K-%03d".formatted(i);
      names.add(Demo.entry(worker).getAttributeValue("uid"));
      assertThat(Demo.groups(worker)).containsExactly("at-tarn-point", "crew", "freight");
      assertThat(Demo.user("chartshare", worker).path("active").asBoolean()).isTrue();
    }
    assertThat(names).doesNotHaveDuplicates().contains("dockak", "dockak2", "dockak3");
    assertThat(Demo.json("operations", "list", "--state", "fault").path("items")).isEmpty();
  }
}
