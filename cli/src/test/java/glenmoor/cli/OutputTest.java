package glenmoor.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.cli.Output.Column;
import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class OutputTest {
  private static final List<Column> COLUMNS =
      List.of(
          Column.of("WORKER", "worker"), Column.of("NAME", "name"), Column.of("JOB", "facts/job"));

  private final PrintStream before = System.out;
  private final ByteArrayOutputStream written = new ByteArrayOutputStream();

  @BeforeEach
  void listen() {
    System.setOut(new PrintStream(written, true, StandardCharsets.UTF_8));
  }

  @AfterEach
  void stopListening() {
    System.setOut(before);
  }

  private static JsonNode json(String text) {
    return JsonMapper.shared().readTree(text.replace('\'', '"'));
  }

  private String written(Output.Form form, String page) {
    var output = new Output();
    output.form = form;
    var all = json(page);
    output.list(all, all.path("items"), COLUMNS, "Nobody matches.");
    return written.toString(StandardCharsets.UTF_8);
  }

  @Test
  void a_table_lines_its_columns_up_however_names_are_written() {
    assertThat(
            written(
                Output.Form.table,
                "{'items': [{'worker': 'W-1', 'name': 'Ærø', 'facts': {'job': 'mate'}}, {'worker': 'W-22', 'name': 'Una Kerrow'}], 'next': null}"))
        .isEqualTo(
            """
            WORKER  NAME        JOB
            W-1     Ærø         mate
            W-22    Una Kerrow
            """);
  }

  @Test
  void a_table_that_goes_on_says_how() {
    assertThat(
            written(
                Output.Form.table,
                "{'items': [{'worker': 'W-1', 'name': 'Una'}], 'total': 244, 'next': 'W-1'}"))
        .endsWith("… 244 in all; go on with --after W-1, or --all\n");
  }

  @Test
  void nothing_found_is_a_sentence_for_people_and_a_heading_for_programs() {
    assertThat(written(Output.Form.table, "{'items': []}")).isEqualTo("Nobody matches.\n");
    written.reset();
    assertThat(written(Output.Form.csv, "{'items': []}")).isEqualTo("worker,name,job\r\n");
  }

  @Test
  void csv_quotes_what_needs_it() {
    assertThat(
            written(
                Output.Form.csv,
                "{'items': [{'worker': 'W-1', 'name': 'Kerrow, Una', 'facts': {'job': null}}]}"))
        .isEqualTo("worker,name,job\r\nW-1,\"Kerrow, Una\",\r\n");
  }

  @Test
  void json_is_the_services_own() {
    var page = "{'items': [{'worker': 'W-1', 'secret': 7}], 'next': null}";
    assertThat(json(written(Output.Form.json, page))).isEqualTo(json(page));
  }

  @Test
  void a_moment_is_shown_in_the_services_zone() {
    var at = json("'2027-04-01T22:30:00Z'");
    assertThat(Output.moment(at, "Atlantic/Faroe")).isEqualTo("1 Apr 2027 23:30:00");
    assertThat(Output.moment(at, "")).isEqualTo("1 Apr 2027 22:30:00");
    assertThat(Output.moment(json("null"), "UTC")).isEmpty();
  }

  @Test
  void what_a_spreadsheet_would_take_for_a_formula_is_a_text() {
    assertThat(
            written(
                Output.Form.csv,
                "{'items': [{'worker': '=1+1', 'name': '@x', 'facts': {'job': -5}}]}"))
        .isEqualTo("worker,name,job\r\n'=1+1,'@x,-5\r\n");
  }

  @Test
  void one_answer_is_refused_as_csv() {
    var output = new Output();
    output.form = Output.Form.csv;
    assertThatThrownBy(() -> output.one(json("{}"), List.of()))
        .isInstanceOf(Client.Failed.class)
        .hasMessageContaining("table or json");
  }

  @Test
  void numbers_agree_with_their_words() {
    assertThat(Output.count(1, "fault", "faults")).isEqualTo("1 fault");
    assertThat(Output.count(1_200, "fault", "faults")).isEqualTo("1,200 faults");
  }
}
