package glenmoor.cli.playbooks;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor asks}. */
@Command(name = "asks", description = "What runs of playbooks ask you.")
public final class AsksCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what waits for your answer.")
  void list(
      @Option(names = "--everybody", description = "What waits for anybody's answer")
          boolean everybody,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/asks", "all", everybody);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ASK", "id"),
            Column.of("ABOUT", "person"),
            Column.of("QUESTION", "question"),
            Column.of("OF", "whom"),
            new Column("LAPSES", row -> Output.moment(row.path("lapsesAt"), zone))),
        "Nothing waits for an answer.");
  }

  @Command(name = "yes", mixinStandardHelpOptions = true, description = "Answers with yes.")
  void yes(
      @Parameters(paramLabel = "ASK") long id,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Output output) {
    answer(id, true, reason == null ? "" : reason, output);
  }

  @Command(
      name = "no",
      mixinStandardHelpOptions = true,
      description = "Answers with no, which ends the run.")
  void no(
      @Parameters(paramLabel = "ASK") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    answer(id, false, reason, output);
  }

  private void answer(long id, boolean yes, String reason, Output output) {
    var answered =
        client.post("/api/v1/asks/" + id + "/answer", Map.of("yes", yes, "reason", reason));
    output.one(
        answered,
        List.of(
            "%s — %s"
                .formatted(
                    answered.path("question").asString(), answered.path("state").asString())));
  }
}
