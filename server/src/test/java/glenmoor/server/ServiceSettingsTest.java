package glenmoor.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ServiceSettingsTest {
  @TempDir private Path directory;

  private Map<String, String> environment(String... namesAndValues) throws IOException {
    var environment = new HashMap<String, String>();
    environment.put(
        "GLENMOOR_KEY_FILE", Files.writeString(directory.resolve("key"), "x").toString());
    for (var i = 0; i < namesAndValues.length; i += 2) {
      environment.put(namesAndValues[i], namesAndValues[i + 1]);
    }
    return environment;
  }

  @Test
  void what_is_not_said_has_its_default() throws IOException {
    var settings = ServiceSettings.read(environment());
    assertThat(settings.get(Setting.GLENMOOR_PORT)).isEqualTo("7480");
    assertThat(settings.zone()).isEqualTo(ZoneId.of("UTC"));
    assertThat(settings.demoClock()).isEmpty();
  }

  @Test
  void the_environment_wins_over_the_file() throws IOException {
    var file = directory.resolve("settings");
    Files.writeString(file, "GLENMOOR_PORT=1111\nGLENMOOR_ZONE=Europe/Oslo\n");
    var settings =
        ServiceSettings.read(
            environment("GLENMOOR_SETTINGS_FILE", file.toString(), "GLENMOOR_PORT", "2222"));
    assertThat(settings.get(Setting.GLENMOOR_PORT)).isEqualTo("2222");
    assertThat(settings.zone()).isEqualTo(ZoneId.of("Europe/Oslo"));
  }

  @Test
  void every_mistake_is_said_at_once() {
    assertThatThrownBy(() ->
            ServiceSettings.read(
                Map.of(
                    "GLENMOOR_PORT", "http",
                    "GLENMOOR_DEMO_CLOCK", "tomorrow",
                    "GLENMOOR_LOG_FORMAT", "xml")))
        .isInstanceOf(ServiceSettings.Bad.class)
        .hasMessageContaining("GLENMOOR_PORT is “http”")
        .hasMessageContaining("GLENMOOR_DEMO_CLOCK is “tomorrow”")
        .hasMessageContaining("GLENMOOR_LOG_FORMAT is “xml”")
        .hasMessageContaining("GLENMOOR_KEY_FILE is not set");
  }

  @Test
  void a_line_for_nothing_in_the_file_is_a_mistake() throws IOException {
    var file = Files.writeString(directory.resolve("settings"), "PORT=1\n");
    assertThatThrownBy(
            () -> ServiceSettings.read(environment("GLENMOOR_SETTINGS_FILE", file.toString())))
        .hasMessageContaining("PORT, which is no setting");
  }

  @Test
  void definitions_can_name_nothing_of_our_own() throws IOException {
    var settings =
        ServiceSettings.read(
            environment(
                "GLENMOOR_APPLICATION_TIDEPAY_URL",
                "https://tidepay.example",
                "GLENMOOR_SECRETS_DIRECTORY",
                directory.resolve("secrets").toString()));
    var names = settings.forConnectors().names();
    assertThat(names.apply("GLENMOOR_APPLICATION_TIDEPAY_URL")).contains("https://tidepay.example");
    assertThat(names.apply("GLENMOOR_KEY_FILE")).isEmpty();
    assertThat(names.apply("PATH")).isEmpty();
    assertThatThrownBy(() ->
            ServiceSettings.read(environment("GLENMOOR_SECRETS_DIRECTORY", directory.toString())))
        .hasMessageContaining("GLENMOOR_KEY_FILE lies in GLENMOOR_SECRETS_DIRECTORY");
    assertThatThrownBy(() -> ServiceSettings.read(environment("GLENMOOR_REACHABLE", "everywhere")))
        .hasMessageContaining("GLENMOOR_REACHABLE: “everywhere” is no address");
  }

  @Test
  void the_operators_guide_lists_every_setting_with_its_default() throws IOException {
    var guide = Files.readString(Path.of("../docs/operating.md"));
    for (var setting : Setting.values()) {
      assertThat(guide)
          .contains(
              "| `%s` | %s | %s |"
                  .formatted(
                      setting,
                      setting.otherwise().isEmpty() ? "" : "`" + setting.otherwise() + "`",
                      setting.meaning()));
    }
  }
}
