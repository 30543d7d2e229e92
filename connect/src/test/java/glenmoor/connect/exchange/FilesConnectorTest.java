package glenmoor.connect.exchange;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.Connector.Seen;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.connect.applications.Testbed;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an application's answers prove, and what they do not. */
class FilesConnectorTest {
  private static final Instant YESTERDAY = Instant.parse("2027-03-01T03:00:00Z");
  private static final Instant TONIGHT = Instant.parse("2027-03-02T03:00:00Z");
  private static final String HEADING = "worker,account,state,called,rights,problem\r\n";
  private static final String UNA = "W-1,kerrow,enabled,Una Kerrow,Reading;Writing,\r\n";
  private static final ProvisioningCommand CREATE =
      new ProvisioningCommand.Create(
          "kerrow", "", Map.of("called", "Una Kerrow"), AccountState.ENABLED);
  private static final ProvisioningCommand ADD =
      new ProvisioningCommand.Add("testbed/reading", "Reading", "role");
  private static final ProvisioningCommand REMOVE =
      new ProvisioningCommand.Remove("testbed/reading", "Reading", "role");
  private static final ProvisioningCommand DELETE = new ProvisioningCommand.Delete();

  @TempDir private Path directory;

  private FilesConnector connector() {
    return new FilesConnector(
        Testbed.application("files", Map.of(), "called"), new ExchangeFolder("testbed", directory));
  }

  private Outcome tried(ProvisioningCommand command, @Nullable Instant handedOver) {
    var target =
        new Target("W-1", "kerrow", "", "", "", false, false, handedOver, Connector.Owners.NOBODY);
    return connector().carryOut(command, target, sealed -> sealed);
  }

  private void order(Instant at) {
    new ExchangeFolder("testbed", directory)
        .write(ExchangeFolder.name("testbed", at), csv -> csv.writeRecord("worker"));
  }

  private Path answer(Instant to, String rows) {
    try {
      var name = ExchangeFolder.name("testbed", to).replace(".csv", ".status.csv");
      var back = Files.createDirectories(directory.resolve("back"));
      var file = Files.writeString(back.resolve(name), HEADING + rows);
      var sum = MessageDigest.getInstance("SHA-256").digest(Files.readAllBytes(file));
      Files.writeString(
          back.resolve(name + ".sha256"), HexFormat.of().formatHex(sum) + "  " + name + "\n");
      return file;
    } catch (IOException | NoSuchAlgorithmException failed) {
      throw new IllegalStateException(failed);
    }
  }

  private static Path sumOf(Path file) {
    return file.resolveSibling(file.getFileName() + ".sha256");
  }

  @Test
  void what_was_not_handed_over_waits_for_the_next_file() {
    answer(YESTERDAY, UNA);
    assertThat(tried(CREATE, null)).isEqualTo(new Outcome.Pending("stands in the next file"));
  }

  @Test
  void what_was_handed_over_waits_for_the_answer_to_that_file() {
    assertThat(tried(CREATE, TONIGHT))
        .isEqualTo(
            new Outcome.Pending(
                "handed over in testbed-20270302T030000000Z.csv, which is not answered yet"));
  }

  @Test
  void an_answer_to_an_earlier_file_proves_nothing_even_if_it_shows_it_so() {
    answer(YESTERDAY, UNA);
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.Pending.class);
    answer(YESTERDAY, "");
    assertThat(tried(DELETE, TONIGHT))
        .as("nor that it is gone")
        .isInstanceOf(Outcome.Pending.class);
  }

  @Test
  void what_the_answer_shows_is_confirmed() {
    answer(TONIGHT, UNA);
    assertThat(tried(CREATE, TONIGHT)).isEqualTo(new Outcome.Confirmed("W-1", ""));
    assertThat(tried(ADD, TONIGHT)).isEqualTo(new Outcome.Confirmed("W-1", ""));
    assertThat(tried(ADD, YESTERDAY))
        .as("a later answer does too")
        .isInstanceOf(Outcome.Confirmed.class);
  }

  @Test
  void what_it_shows_otherwise_is_refused() {
    answer(TONIGHT, "W-1,kerrow,disabled,Una Kerrow,Reading,\r\n");
    assertThat(tried(CREATE, TONIGHT).sentence()).contains("shows the account otherwise");
    assertThat(tried(new ProvisioningCommand.Enable(), TONIGHT))
        .isInstanceOf(Outcome.Refused.class);
    assertThat(tried(new ProvisioningCommand.Disable(), TONIGHT))
        .isInstanceOf(Outcome.Confirmed.class);
    assertThat(tried(REMOVE, TONIGHT)).isInstanceOf(Outcome.Refused.class);
    assertThat(tried(DELETE, TONIGHT)).isInstanceOf(Outcome.Refused.class);
  }

  @Test
  void its_own_words_are_given_where_it_has_a_problem() {
    answer(TONIGHT, "W-1,,,,,There is no seat left\r\n");
    assertThat(tried(CREATE, TONIGHT).sentence())
        .isEqualTo("It answers testbed-20270302T030000000Z.csv with: There is no seat left");
    assertThat(tried(DELETE, TONIGHT)).as("gone is gone").isInstanceOf(Outcome.Confirmed.class);
  }

  @Test
  void who_is_not_named_has_no_account() {
    answer(TONIGHT, "W-2,tarn,enabled,Bo Tarn,,\r\n");
    assertThat(tried(CREATE, TONIGHT)).isInstanceOf(Outcome.Refused.class);
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.Gone.class);
    assertThat(tried(REMOVE, TONIGHT)).isInstanceOf(Outcome.Gone.class);
    assertThat(tried(DELETE, TONIGHT)).isEqualTo(new Outcome.Confirmed("", ""));
  }

  @Test
  void a_worker_number_in_other_letters_is_somebody_else() {
    answer(TONIGHT, UNA.replace("W-1", "w-1"));
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.Gone.class);
  }

  @Test
  void a_worker_number_on_two_accounts_is_refused() {
    answer(TONIGHT, UNA + UNA.replace("kerrow", "kerrow2"));
    assertThat(tried(ADD, TONIGHT).sentence()).contains("names two accounts of W-1");
  }

  @Test
  void a_file_that_was_cut_is_none() throws IOException {
    var file = answer(TONIGHT, UNA.replace("Una Kerrow", "U. Kerrow") + UNA);
    Files.writeString(file, HEADING);
    assertThat(tried(DELETE, TONIGHT)).isInstanceOf(Outcome.Pending.class);
    answer(YESTERDAY, UNA);
    assertThat(connector().answered().orElseThrow().at())
        .as("the one before counts")
        .isEqualTo(YESTERDAY);
  }

  @Test
  void a_file_without_its_sum_is_still_being_written() throws IOException {
    Files.delete(sumOf(answer(TONIGHT, "")));
    assertThat(tried(DELETE, TONIGHT)).isInstanceOf(Outcome.Pending.class);
  }

  @Test
  void a_link_is_not_followed() throws IOException {
    var file = answer(TONIGHT, UNA);
    var elsewhere = directory.resolve("elsewhere");
    Files.move(file, elsewhere);
    Files.createSymbolicLink(file, elsewhere);
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.Pending.class);
  }

  @Test
  void another_applications_files_are_not_its_own() throws IOException {
    var file = answer(TONIGHT, UNA);
    var other = file.resolveSibling("other-20270302T030000000Z.status.csv");
    Files.move(file, other);
    Files.move(sumOf(file), sumOf(other));
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.Pending.class);
  }

  @Test
  void a_file_that_cannot_be_read_as_an_answer_turns_health_and_makes_no_fault() {
    answer(TONIGHT, UNA.replace("enabled", "open"));
    assertThat(tried(ADD, TONIGHT)).isInstanceOf(Outcome.WrongSettings.class);
    assertThat(connector().test().sentence()).contains("line 2 says no state");
  }

  @Test
  void two_files_without_an_answer_are_told() {
    answer(YESTERDAY, UNA);
    order(YESTERDAY);
    order(TONIGHT);
    assertThat(connector().test().well()).as("one may be in work").isTrue();
    order(TONIGHT.plusSeconds(60));
    assertThat(connector().test().sentence()).isEqualTo("the last 2 files are not answered");
  }

  @Test
  void all_it_names_is_listed_those_without_a_worker_number_too() {
    answer(TONIGHT, UNA + ",guest,enabled,A guest,Reading,\r\nW-3,,,,,Unknown here\r\n");
    var seen = new ArrayList<Seen>();
    connector().list(seen::add);
    assertThat(seen)
        .extracting(Seen::name, Seen::worker, Seen::nativeId)
        .containsExactly(tuple("kerrow", "W-1", "W-1"), tuple("guest", "", "account guest"));
    var rights = new ArrayList<String>();
    connector().memberships(each -> rights.add(each.reference() + " " + each.technicalName()));
    assertThat(rights)
        .containsExactlyInAnyOrder("W-1 Reading", "W-1 Writing", "account guest Reading");
  }

  @Test
  void before_the_first_answer_nothing_can_be_listed() {
    assertThatThrownBy(() -> connector().list(each -> {})).isInstanceOf(Connector.CannotRead.class);
  }

  @Test
  void a_directory_that_cannot_be_used_is_said_and_not_taken_for_an_empty_one() throws IOException {
    Files.writeString(directory.resolve("back"), "no directory");
    assertThat(connector().test().well()).isFalse();
    assertThatThrownBy(
            () -> connector().write("testbed-20270302T030000000Z.csv", csv -> csv.writeRecord("x")))
        .isInstanceOf(Connector.CannotRead.class);
  }

  @Test
  void an_order_is_there_as_a_whole_and_with_its_sum() throws IOException {
    connector()
        .write(
            "testbed-20270302T030000000Z.csv",
            csv -> {
              csv.writeRecord(connector().headings());
              csv.writeRecord("W-1", "kerrow", "enabled", "Una, \"Kerrow\"", "Reading");
            });
    assertThat(Files.readString(directory.resolve("out/testbed-20270302T030000000Z.csv")))
        .isEqualTo(
            "worker,account,state,called,rights\r\nW-1,kerrow,enabled,\"Una, \"\"Kerrow\"\"\",Reading\r\n");
    try (var files = Files.list(directory.resolve("out"))) {
      assertThat(files.map(file -> file.getFileName().toString()))
          .containsExactlyInAnyOrder(
              "testbed-20270302T030000000Z.csv", "testbed-20270302T030000000Z.csv.sha256");
    }
  }

  @Test
  void a_right_with_a_semicolon_is_said_beforehand() {
    assertThat(List.copyOf(Listing.Rights.of(" Reading; Writing ;;")))
        .containsExactlyInAnyOrder("Reading", "Writing");
  }
}
