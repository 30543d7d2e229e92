package glenmoor.engine.definitions;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Problem;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class DefinitionFilesTest {
  private final List<Problem> problems = new ArrayList<>();

  private List<Definition> read(String text) {
    return DefinitionFiles.read("x.yaml", text, problems);
  }

  private static List<Object> plain(List<Definition> definitions) {
    return definitions.stream().map(each -> each.body().plain()).toList();
  }

  @Test
  void skerry_line_can_be_read_computed_with_written_and_read_again() throws IOException {
    var all = new ArrayList<Definition>();
    try (var files = Files.list(Path.of("../standins/scenario/definitions"))) {
      for (var file : files.sorted().toList()) {
        all.addAll(read(Files.readString(file)));
      }
    }
    assertThat(problems).isEmpty();
    assertThat(all).hasSizeGreaterThan(70);
    assertThat(Catalogue.read(all, 1, ZoneOffset.UTC).problems()).isEmpty();
    assertThat(plain(read(DefinitionFiles.write(all)))).isEqualTo(plain(all));
  }

  @Test
  void what_is_no_yaml_says_on_which_line() {
    read("package: x\n  name: [\n");
    assertThat(problems.getFirst().toString()).startsWith("x.yaml line 2: This is no YAML");
  }

  @Test
  void a_key_given_twice_is_found() {
    read("package: x\nname: one\nname: two\n");
    assertThat(problems.getFirst().toString())
        .isEqualTo("x.yaml line 3: name is given twice; keep one.");
  }

  @Test
  void empty_documents_are_nothing() {
    assertThat(read("---\n---\npackage: x\n---\n")).hasSize(1);
    assertThat(problems).isEmpty();
  }
}
