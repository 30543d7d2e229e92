package glenmoor.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;

/** What the command line says of itself, and of wrong words. */
class CommandLineTest {
  private static final int WIDEST = 100;

  private static List<CommandLine> all(CommandLine top) {
    var all = new ArrayList<CommandLine>();
    all.add(top);
    top.getSubcommands().values().forEach(each -> all.addAll(all(each)));
    return all;
  }

  private record Answer(int exit, String out, String err) {}

  private static Answer run(String... words) {
    var out = new StringWriter();
    var err = new StringWriter();
    var exit =
        Glenmoor.commandLine()
            .setOut(new PrintWriter(out))
            .setErr(new PrintWriter(err))
            .execute(words);
    return new Answer(exit, out.toString(), err.toString());
  }

  @Test
  void every_command_and_every_option_says_what_it_is_for() {
    for (var command : all(Glenmoor.commandLine())) {
      var spec = command.getCommandSpec();
      assertThat(spec.usageMessage().description()).as(spec.qualifiedName()).isNotEmpty();
      spec.options()
          .forEach(option ->
              assertThat(option.description())
                  .as(spec.qualifiedName() + " " + option.longestName())
                  .isNotEmpty());
    }
  }

  @Test
  void help_fits_a_terminal() {
    for (var command : all(Glenmoor.commandLine())) {
      assertThat(command.getUsageMessage().lines())
          .as(command.getCommandSpec().qualifiedName())
          .allSatisfy(line -> assertThat(line.length()).isLessThanOrEqualTo(WIDEST));
    }
  }

  @Test
  void every_list_can_be_limited_gone_on_with_and_written_for_programs() {
    var lists =
        all(Glenmoor.commandLine()).stream()
            .map(CommandLine::getCommandSpec)
            .filter(spec -> spec.name().equals("list"))
            .toList();
    assertThat(lists).hasSizeGreaterThan(5);
    for (var spec : lists) {
      assertThat(spec.optionsMap()).as(spec.qualifiedName()).containsKey("--output");
      if (!spec.qualifiedName().matches(".*(applications|sign-ins|jobs) list")) {
        assertThat(spec.optionsMap())
            .as(spec.qualifiedName())
            .containsKeys("--limit", "--all", "--after");
      }
    }
  }

  @Test
  void wrong_words_are_told_with_what_is_right_and_exit_2() {
    var unknown = run("people", "lost");
    assertThat(unknown.exit()).isEqualTo(2);
    assertThat(unknown.err()).contains("lost").contains("list");
    assertThat(run("people", "list", "--output", "xml").exit()).isEqualTo(2);
    assertThat(run("people", "list", "--output", "xml").err()).contains("table, json, csv");
    assertThat(run("operations", "retry").exit()).isEqualTo(2);
    assertThat(run("operations", "retry", "seven").exit()).isEqualTo(2);
    assertThat(run("people", "why").err()).contains("WORKER");
  }

  @Test
  void help_is_no_mistake() {
    for (var words : new String[][] {{"--help"}, {"feeds", "--help"}, {"help", "people"}}) {
      var answer = run(words);
      assertThat(answer.exit()).isZero();
      assertThat(answer.out()).contains("Usage:");
    }
  }
}
