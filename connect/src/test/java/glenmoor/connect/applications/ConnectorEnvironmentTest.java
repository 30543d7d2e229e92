package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.connect.applications.Settings.BadSetting;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an application's definition can get at, and what not. */
class ConnectorEnvironmentTest {
  @TempDir private Path directory;

  private ConnectorEnvironment environment(String reachable) throws IOException {
    Files.createDirectories(directory.resolve("secrets"));
    return new ConnectorEnvironment(
        name -> name.equals("DECLARED") ? Optional.of("here") : Optional.empty(),
        directory.resolve("secrets"),
        Reachable.of(reachable),
        Optional.empty());
  }

  private String secret(String file) throws IOException {
    return environment("").secret(file);
  }

  @Test
  void a_secret_is_one_line_of_a_file_in_the_one_directory() throws Exception {
    environment("");
    Files.writeString(directory.resolve("secrets/good"), "a token\n");
    assertThat(secret("good")).isEqualTo("a token");
    assertThat(secret(directory.resolve("secrets/good").toString())).isEqualTo("a token");
    for (var text : List.of("", "\n", "one\ntwo\n", "x".repeat(5_000))) {
      Files.writeString(directory.resolve("secrets/bad"), text);
      assertThatThrownBy(() -> secret("bad")).isInstanceOf(BadSetting.class);
    }
  }

  @Test
  void no_other_file_can_be_named_not_by_a_path_nor_by_a_link() throws Exception {
    environment("");
    var key = Files.writeString(directory.resolve("key"), "the sealing key");
    Files.createSymbolicLink(directory.resolve("secrets/link"), key);
    for (var file : List.of("../key", key.toString(), "link", "/etc/hostname", "nothing")) {
      assertThatThrownBy(() -> secret(file))
          .as(file)
          .isInstanceOf(BadSetting.class)
          .hasMessageContaining("directory of secrets");
    }
  }

  @Test
  void only_declared_names_have_a_value() throws Exception {
    var settings =
        new Settings(
            "tidepay",
            Map.of("url", "https://${DECLARED}/scim", "join", "${GLENMOOR_KEY_FILE}"),
            Set.of("url", "join"),
            environment(""));
    assertThat(settings.needed("url")).isEqualTo("https://here/scim");
    assertThatThrownBy(() -> settings.needed("join"))
        .hasMessageContaining("GLENMOOR_KEY_FILE, which is not among the names declared");
  }

  @Test
  void a_setting_that_nothing_reads_is_refused() {
    assertThatThrownBy(() ->
            new Settings(
                "tidepay",
                Map.of("url", "https://x.example", "token", "a secret in the open"),
                Set.of("url", "token-file"),
                environment("")))
        .isInstanceOf(BadSetting.class)
        .hasMessage(
            "The application tidepay has no setting called token; there are token-file, url.");
  }

  @Test
  void without_a_list_what_is_not_encrypted_stays_on_this_machine() {
    for (var good :
        List.of(
            "https://hr.skerryline.example/scim",
            "ldaps://10.1.2.3",
            "http://127.0.0.1:7490/scim/v2",
            "ldap://localhost:389")) {
      assertThatCode(() -> check("", good)).as(good).doesNotThrowAnyException();
    }
    for (var bad :
        List.of(
            "http://169.254.169.254/latest",
            "ldap://10.1.2.3",
            "file:///etc/passwd",
            "http://127.0.0.1@elsewhere.example/",
            "http:///nowhere",
            "no address")) {
      assertThatThrownBy(() -> check("", bad))
          .as(bad)
          .isInstanceOf(BadSetting.class)
          .hasMessageContaining("GLENMOOR_REACHABLE");
    }
  }

  @Test
  void with_a_list_nothing_else_can_be_reached() {
    var list = "https://*.skerryline.example, ldap://10.7.0.5:389";
    for (var good :
        List.of(
            "https://hr.skerryline.example/scim",
            "https://hr.skerryline.example:8443/",
            "ldap://10.7.0.5:389")) {
      assertThatCode(() -> check(list, good)).as(good).doesNotThrowAnyException();
    }
    for (var bad :
        List.of(
            "https://skerryline.example.elsewhere.example/",
            "https://elsewhere.example/hr.skerryline.example",
            "https://hrxskerryline.example/",
            "http://hr.skerryline.example/",
            "ldap://10.7.0.5:3890",
            "ldap://10.7.0.5")) {
      assertThatThrownBy(() -> check(list, bad)).as(bad).isInstanceOf(BadSetting.class);
    }
    assertThatThrownBy(() -> Reachable.of("everywhere"))
        .hasMessageContaining("“everywhere” is no address");
  }

  private void check(String reachable, String url) throws IOException {
    environment(reachable).reachable().check("tidepay", url);
  }
}
