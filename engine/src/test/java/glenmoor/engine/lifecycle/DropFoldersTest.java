package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Files that a source drops into a directory. */
class DropFoldersTest {
  private TestEnvironment environment;
  private DropFolders drops;
  private Path directory;

  @BeforeEach
  void load() throws IOException {
    environment = new TestEnvironment();
    environment.define(
        TestEnvironment.skerryLine()
            .replace("name: People Office\n", "name: People Office\ndrop: office\nat: 0 2 * * *\n"),
        true);
    drops = environment.get(DropFolders.class);
    directory = Files.createDirectories(environment.directory.resolve("drops/office"));
  }

  @AfterEach
  void close() {
    environment.close();
  }

  private Path drop(String name, String... rows) throws IOException {
    var file =
        Files.writeString(
            directory.resolve(name), TestEnvironment.HEADING + String.join("\r\n", rows));
    age(file, Duration.ofMinutes(1));
    return file;
  }

  private static void age(Path file, Duration by) throws IOException {
    Files.setLastModifiedTime(file, FileTime.from(Instant.now().minus(by)));
  }

  private List<String> in(String name) {
    try (Stream<Path> all = Files.list(directory.resolve(name))) {
      return all.map(file -> file.getFileName().toString().replaceFirst("^\\d+-", ""))
          .sorted()
          .toList();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private Collected collected() {
    var collected = drops.collect("people-office", ISA);
    collected.begun().forEach(each -> environment.ended(each.work()));
    return collected;
  }

  @Test
  void files_are_loaded_in_the_order_of_their_names_and_kept() throws IOException {
    drop("2027-03-02.csv", TestEnvironment.UNA);
    drop("2027-03-01.csv", TestEnvironment.UNA, TestEnvironment.BO);
    drop("notes.txt", "nothing");
    assertThat(collected().begun())
        .extracting(Collected.Begun::fileName)
        .containsExactly("2027-03-01.csv", "2027-03-02.csv");
    drops.scheduled();
    assertThat(in("processed")).containsExactly("2027-03-01.csv", "2027-03-02.csv");
    assertThat(in("taken")).isEmpty();
    assertThat(Files.exists(directory.resolve("notes.txt"))).isTrue();
    assertThat(environment.feeds.list(Long.MAX_VALUE, 10, ISA)).hasSize(2);
  }

  @Test
  void a_file_that_is_no_feed_is_kept_with_the_reason_beside_it() throws IOException {
    age(
        Files.writeString(directory.resolve("bad.csv"), "Nothing,Of,This\r\n"),
        Duration.ofMinutes(1));
    collected();
    drops.scheduled();
    assertThat(in("rejected")).containsExactly("bad.csv", "bad.csv.txt");
    assertThat(in("processed")).isEmpty();
  }

  @Test
  void what_is_still_being_written_is_left_until_it_is_whole() throws IOException {
    var file = drop("a.csv", TestEnvironment.UNA);
    age(file, Duration.ZERO);
    assertThat(collected().begun()).isEmpty();
    assertThat(Files.exists(file)).isTrue();
  }

  @Test
  void a_link_is_not_followed() throws IOException {
    var elsewhere = drop("../secret.csv", TestEnvironment.UNA);
    Files.createSymbolicLink(directory.resolve("link.csv"), elsewhere);
    assertThat(collected().begun()).isEmpty();
  }

  @Test
  void what_a_service_took_and_never_loaded_is_given_back() throws IOException {
    collected();
    var claim = drop("taken/claim-a.csv", TestEnvironment.UNA);
    assertThat(collected().begun()).as("it may be at it").isEmpty();
    age(claim, Duration.ofMinutes(11));
    assertThat(collected().begun()).hasSize(1);
  }

  @Test
  void it_is_looked_into_when_it_is_due_by_the_service_itself() throws IOException {
    drop("a.csv", TestEnvironment.UNA, TestEnvironment.BO);
    drops.scheduled();
    assertThat(environment.feeds.list(Long.MAX_VALUE, 10, ISA)).isEmpty();
    environment.at("2027-03-02T03:00:00Z");
    drops.scheduled();
    TestEnvironment.eventually(() -> {
      drops.scheduled();
      return in("processed").equals(List.of("a.csv"));
    });
    assertThat(environment.feeds.list(Long.MAX_VALUE, 10, ISA))
        .singleElement()
        .satisfies(feed -> assertThat(feed.loadedBy()).isEqualTo("glenmoor"));
  }

  @Test
  void only_who_may_load_feeds_has_it_looked_into() {
    var nobody = new Actor("una", "Una", "W-1", List.of());
    assertThatThrownBy(() -> drops.collect("people-office", nobody)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> drops.collect("elsewhere", ISA))
        .hasMessageContaining("no source elsewhere");
  }

  @Test
  void a_directory_can_only_be_named_not_led_to() {
    for (var name : List.of("../secrets", "/etc", "a/b", ".hidden")) {
      assertThatThrownBy(() ->
              environment.define(
                  TestEnvironment.skerryLine()
                      .replace(
                          "name: People Office\n", "name: People Office\ndrop: " + name + "\n"),
                  true))
          .as(name)
          .isInstanceOf(Refused.class);
    }
  }
}
