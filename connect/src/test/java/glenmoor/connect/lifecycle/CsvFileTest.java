package glenmoor.connect.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CsvFileTest {
  @TempDir private Path directory;

  private List<String> read(byte[] bytes) throws IOException {
    var file = Files.write(directory.resolve("feed.csv"), bytes);
    var read = new ArrayList<String>();
    new CsvFile(file, ',')
        .read(
            new CsvFile.Rows() {
              @Override
              public void heading(List<String> columns) {
                read.add("heading " + columns);
              }

              @Override
              public void row(long line, List<String> fields) {
                read.add(line + " " + fields);
              }
            });
    return read;
  }

  private List<String> read(String text) throws IOException {
    return read(text.getBytes(StandardCharsets.UTF_8));
  }

  @Test
  void rows_come_with_the_line_on_which_they_begin() throws IOException {
    assertThat(read("a,b\r\n1,\"two\nlines\"\r\n2,x\r\n"))
        .containsExactly("heading [a, b]", "2 [1, two\nlines]", "4 [2, x]");
  }

  @Test
  void a_byte_order_mark_is_tolerated() throws IOException {
    assertThat(read("\uFEFFa,b\n1,2\n").getFirst()).isEqualTo("heading [a, b]");
  }

  @Test
  void rows_of_another_width_are_given_as_they_are() throws IOException {
    assertThat(read("a,b\n1\n1,2,3\n")).containsExactly("heading [a, b]", "2 [1]", "3 [1, 2, 3]");
  }

  @Test
  void bytes_that_are_not_utf8_are_marked_in_their_row_only() throws IOException {
    var bytes = "a,b\n1,Sæther\n2,x\n".getBytes(StandardCharsets.ISO_8859_1);
    assertThat(read(bytes)).containsExactly("heading [a, b]", "2 [1, S\uFFFDther]", "3 [2, x]");
  }

  @Test
  void an_empty_file_is_broken() {
    assertThatThrownBy(() -> read(""))
        .isInstanceOf(CsvFile.Broken.class)
        .hasMessageContaining("empty");
  }

  @Test
  void a_quote_that_is_not_closed_breaks_the_file_and_says_where() {
    assertThatThrownBy(() -> read("a,b\n1,x\n2,\"never closed\n3,y\n"))
        .isInstanceOf(CsvFile.Broken.class)
        .hasMessageContaining("Nothing was changed");
  }

  @Test
  void a_file_in_utf_16_is_recognised() {
    for (var charset : List.of(StandardCharsets.UTF_16BE, StandardCharsets.UTF_16LE)) {
      assertThatThrownBy(() -> read("\uFEFFa,b\n1,2\n".getBytes(charset)))
          .isInstanceOf(CsvFile.Broken.class)
          .hasMessageContaining("UTF-16");
    }
  }
}
