package glenmoor.engine.installation;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.installation.Installation;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.installation.Installations.Messages;
import glenmoor.engine.installation.Installations.Place;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Sending;
import glenmoor.engine.lifecycle.DropFolders;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.installation.InstallationMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A copy plans and shows, and sends nothing, until somebody releases it. */
class InstallationsTest extends EngineTest {
  private static final Actor OWNER =
      new Actor(
          "owner", "Owner", "W-1", List.of(Assignment.of(Duty.APPLICATION_OWNER, "chartshare")));

  @TempDir private Path state;

  private Installations installations() {
    return environment.get(Installations.class);
  }

  /** The service as it starts at another place, or again. */
  private Installations started(String identity, boolean quiet) {
    var mapper = environment.get(InstallationMapper.class);
    var fresh = new InstallationState(mapper);
    var started =
        new Installations(
            mapper,
            fresh,
            new Place(identity, quiet, Optional.of(state.resolve("seen"))),
            List.of(environment.get(Sending.class)),
            environment.get(Transactions.class),
            environment.get(Ledger.class),
            environment.get(Clock.class));
    assertThat(fresh.quiet()).as("before it was looked").isTrue();
    started.begin();
    return started;
  }

  private static boolean quiet(Installations service) {
    return service.show(OWNER).quiet();
  }

  private void silenced() {
    installations().silence("a rehearsal", ISA);
  }

  private static void waited() throws InterruptedException {
    // Time in which something would have been sent.
    Thread.sleep(Duration.ofMillis(1_500));
  }

  @Test
  void what_is_planned_while_it_is_quiet_waits_and_is_sent_once_it_is_released() throws Exception {
    silenced();
    environment.load(TestEnvironment.UNA);
    environment.start();
    assertThat(environment.outbox("W-1")).hasSize(3);
    waited();
    assertThat(environment.number("select count(*) from operation where state = 'waiting'"))
        .isEqualTo(3);
    assertThat(environment.user("W-1").isMissingNode()).isTrue();
    var shown = installations().show(ISA);
    assertThat(shown.quiet()).isTrue();
    assertThat(shown.reason()).isEqualTo("a rehearsal");
    assertThat(shown.operations())
        .extracting(each -> each.kind() + " " + each.operations())
        .containsExactly("add 2", "create 1");
    assertThat(environment.get(Connections.class).closed()).containsExactly("chartshare");
    installations().release(Messages.DROP, "it was one", ISA);
    environment.settled();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(environment.happened("installation")).containsExactly("quiet", "released");
  }

  @Test
  void nothing_is_asked_of_an_application_by_hand_and_no_dropped_file_is_taken() {
    silenced();
    var application = environment.catalogues.current().applications().getFirst();
    var outcome =
        environment.connections.through(
            application,
            connector -> {
              throw new AssertionError("It was asked.");
            });
    assertThat(outcome).isInstanceOf(Outcome.Unreachable.class);
    assertThatThrownBy(() -> environment.get(DropFolders.class).collect("people-office", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("quiet");
  }

  @Test
  void letters_wait_and_are_dropped_or_sent_as_whoever_releases_it_says() {
    var message =
        "insert into message (id, kind, channel, address, template, subject, body, html, sealed, state, due_at, created_at, reason, answer, cause, once_key) values (%d, 'letter', '', 'una@skerryline.example', 'x', 'Welcome', 'Dear Una', '', '', 'waiting', '2027-03-01', '2027-03-01', '', '', '', '%1$d')";
    silenced();
    environment.define(
        "letters: skerry-line\nfrom: Skerry Line <glenmoor@skerryline.example>\naddress: person.worker + \"@skerryline.example\"",
        false);
    environment.sql.update(message.formatted(1));
    assertThat(environment.get(Sending.class).carryOut()).isZero();
    assertThat(environment.get(Sending.class).busy()).isFalse();
    assertThat(installations().show(ISA).messages())
        .singleElement()
        .satisfies(each -> assertThat(each.messages()).isOne());
    installations().release(Messages.DROP, "the original wrote it", ISA);
    assertThat(environment.get(Sending.class).carryOut()).isZero();
    assertThat(environment.number("select count(*) from message where state = 'failed'")).isOne();
    environment.sql.update(message.formatted(2));
    assertThat(environment.get(Sending.class).carryOut()).isOne();
  }

  @Test
  void a_copy_elsewhere_and_one_whose_settings_say_so_are_quiet_until_they_are_released()
      throws Exception {
    environment.load(TestEnvironment.UNA);
    var copy = started("a copy", false);
    assertThat(quiet(copy)).isTrue();
    assertThat(copy.show(ISA).reason()).contains("“a test”").contains("“a copy”");
    // It stays so, whoever starts next, until somebody decides.
    assertThat(quiet(started("a test", false))).isTrue();
    copy.release(Messages.DROP, "it is the new one", ISA);
    assertThat(quiet(copy)).isFalse();
    assertThat(quiet(started("a copy", false))).isFalse();
    assertThat(quiet(started("a test", false))).as("the original is one now").isTrue();
    started("a test", false).release(Messages.DROP, "back", ISA);
    assertThat(quiet(started("a test", true))).as("the settings say so").isTrue();
  }

  @Test
  void a_database_that_was_set_back_is_quiet_while_it_runs_and_when_it_starts() throws IOException {
    environment.load(TestEnvironment.UNA);
    var service = started("a test", false);
    service.look();
    assertThat(quiet(service)).isFalse();
    assertThat(Files.readString(state.resolve("seen"))).isNotBlank();
    environment.sql.update("delete from ledger_entry order by id desc limit 1");
    service.look();
    assertThat(quiet(service)).isTrue();
    assertThat(service.show(ISA).reason()).isEqualTo(Installation.OLDER);
    environment.sql.update("update installation set quiet_since = null");
    assertThat(quiet(started("a test", false))).as("by its file").isTrue();
  }

  @Test
  void a_database_with_a_past_that_does_not_say_what_it_is_is_quiet() {
    environment.load(TestEnvironment.UNA);
    environment.sql.update("delete from installation");
    assertThat(quiet(started("a test", false))).isTrue();
  }

  @Test
  void only_an_administrator_releases_it_or_sees_what_waits() {
    silenced();
    environment.load(TestEnvironment.UNA);
    assertThat(installations().show(OWNER).quiet()).isTrue();
    assertThat(installations().show(OWNER).operations()).isEmpty();
    assertThatThrownBy(() -> installations().release(Messages.SEND, "why not", OWNER))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(() -> installations().silence("why not", OWNER)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> installations().release(Messages.SEND, " ", ISA))
        .isInstanceOf(Refused.class);
    installations().release(Messages.SEND, "done", ISA);
    assertThatThrownBy(() -> installations().release(Messages.SEND, "done", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("not quiet");
  }
}
