package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.connect.applications.Connector.Seen;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A whole life of an account in SCIM servers that we did not write. */
class ScimPeersTest {
  @TempDir private Path directory;

  private Connector connector(String url) throws IOException {
    Files.writeString(directory.resolve("token"), "a token");
    return Testbed.open(
        Testbed.application(
            "scim",
            Map.of("url", url, "token-file", directory.resolve("token").toString()),
            "displayName",
            "name.givenName",
            "emails"));
  }

  @Test
  void a_life_in_one_written_in_java() throws Exception {
    try (var peer = new JavaPeer();
        var connector = connector(peer.url())) {
      life(connector);
    }
  }

  @Test
  void a_life_in_one_written_in_javascript() throws Exception {
    var process = node();
    try (var out =
        new BufferedReader(
            new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))) {
      var port = out.readLine();
      try (var connector = connector("http://127.0.0.1:" + port + "/scim/v2")) {
        life(connector);
      }
    } finally {
      process.destroy();
    }
  }

  private static Process node() throws Exception {
    var peer = Path.of("src/test/peer").toAbsolutePath();
    var to = Path.of("target/peer").toAbsolutePath();
    Files.createDirectories(to);
    for (var file : List.of("package.json", "package-lock.json", "peer.mjs")) {
      Files.write(to.resolve(file), Files.readAllBytes(peer.resolve(file)));
    }
    var log = File.createTempFile("npm", ".log");
    var install =
        new ProcessBuilder("npm", "ci", "--silent", "--no-audit", "--no-fund")
            .directory(to.toFile())
            .redirectErrorStream(true)
            .redirectOutput(log)
            .start();
    assertThat(install.waitFor(180, TimeUnit.SECONDS)).isTrue();
    assertThat(install.exitValue()).as(Files.readString(log.toPath())).isZero();
    return new ProcessBuilder("node", "peer.mjs")
        .directory(to.toFile())
        .redirectError(ProcessBuilder.Redirect.DISCARD)
        .start();
  }

  private static Outcome carryOut(Connector connector, ProvisioningCommand command, String worker) {
    return connector.carryOut(
        command,
        Testbed.target(worker, "una-" + worker.toLowerCase(), "", "", false),
        sealed -> sealed);
  }

  private static void confirmed(Connector connector, ProvisioningCommand command) {
    assertThat(carryOut(connector, command, "W-1"))
        .as(command.toString())
        .isInstanceOf(Outcome.Confirmed.class);
  }

  private static ProvisioningCommand.Create create(String name) {
    return new ProvisioningCommand.Create(
        name,
        "",
        Map.of("displayName", "Una Kerrow", "name.givenName", "Una", "emails", "una@x.example"),
        AccountState.ENABLED);
  }

  private static void life(Connector connector) {
    assertThat(connector.test().well()).as(connector.test().sentence()).isTrue();
    assertThat(connector.examine(List.of()).abilities()).isNotEmpty();
    assertThat(carryOut(connector, create("bystander"), "W-0"))
        .isInstanceOf(Outcome.Confirmed.class);
    for (var taking :
        List.of(new ProvisioningCommand.Disable(), new ProvisioningCommand.Delete())) {
      assertThat(carryOut(connector, taking, "W-1"))
          .as("nobody else's user is taken for it")
          .isInstanceOf(Outcome.Gone.class);
    }
    confirmed(connector, create("una"));
    assertThat(carryOut(connector, create("una"), "W-1"))
        .as("made again it is adopted")
        .isInstanceOf(Outcome.Confirmed.class);
    for (var mail : List.of("una.kerrow@x.example", "una.kerrow@x.example", "una@y.example")) {
      confirmed(
          connector,
          new ProvisioningCommand.Update(
              "oona", "", Map.of("displayName", "Oona Kerrow", "emails", mail)));
    }
    var add = new ProvisioningCommand.Add("c/charts", "Charts", "group");
    var remove = new ProvisioningCommand.Remove("c/charts", "Charts", "group");
    for (var command : List.of(add, add, remove, remove, add)) {
      confirmed(connector, command);
    }
    confirmed(connector, new ProvisioningCommand.Add("c/admin", "admin", "role"));
    confirmed(connector, new ProvisioningCommand.Remove("c/admin", "admin", "role"));
    confirmed(connector, new ProvisioningCommand.Disable());
    confirmed(connector, new ProvisioningCommand.Enable());
    confirmed(connector, new ProvisioningCommand.Disable());
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    assertThat(seen).hasSize(2);
    assertThat(seen)
        .filteredOn(each -> each.worker().equals("W-1"))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.name()).isEqualTo("oona");
          assertThat(each.enabled()).isFalse();
        });
    confirmed(connector, remove);
    confirmed(connector, new ProvisioningCommand.Delete());
    assertThat(carryOut(connector, new ProvisioningCommand.Delete(), "W-1"))
        .isInstanceOf(Outcome.Gone.class);
    var left = new ArrayList<Seen>();
    connector.list(left::add);
    assertThat(left).extracting(Seen::worker).containsExactly("W-0");
  }
}
