package glenmoor.cli.provisioning;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor tasks}. */
@Command(
    name = "tasks",
    description = "Tasks: faults to mend, and what people do where there is no connector.")
public final class TasksCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what is to be done by people, newest first.")
  void list(
      @Option(names = "--application", description = "Only in this application")
          @Nullable String application,
      @Option(names = "--worker", description = "Only for this person") @Nullable String worker,
      @Option(names = "--only", description = "fault or task; both without") @Nullable String only,
      @Mixin Paging paging,
      @Mixin Output output) {
    if (only != null && !List.of("fault", "task").contains(only)) {
      throw wrong("--only is fault or task, not " + only + ".");
    }
    var page =
        paging.of(
            client,
            "/api/v1/operations",
            "state",
            only == null ? "fault,task" : only,
            "application",
            application,
            "worker",
            worker);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("TASK", "id"),
            Column.of("KIND", "state"),
            Column.of("APPLICATION", "application"),
            Column.of("PERSON", "name"),
            new Column("SINCE", row -> Output.moment(row.path("notBefore"), zone)),
            Column.of("WHAT", "reason")),
        "Nothing is to be done.");
  }

  @Command(
      name = "done",
      mixinStandardHelpOptions = true,
      description = "Says that tasks were done by hand.")
  void done(
      @Parameters(arity = "1..*", paramLabel = "TASK") List<Long> ids,
      @Option(names = "--reason", required = true, description = "What was done") String reason,
      @Mixin Output output) {
    decide(ids, "by-hand", reason, null, output);
  }

  @Command(
      name = "give-up",
      mixinStandardHelpOptions = true,
      description = "Accepts that tasks are not done, until a day.")
  void giveUp(
      @Parameters(arity = "1..*", paramLabel = "TASK") List<Long> ids,
      @Option(names = "--reason", required = true, description = "Why not") String reason,
      @Option(
              names = "--until",
              paramLabel = "DAY",
              description = "The last day of it, such as 2027-05-31. Default: in 90 days")
          @Nullable LocalDate until,
      @Mixin Output output) {
    decide(ids, "give-up", reason, until, output);
  }

  @Command(
      name = "retry",
      mixinStandardHelpOptions = true,
      description = "Has faults tried again: their people are planned anew, as things are now.")
  void retry(
      @Parameters(arity = "1..*", paramLabel = "TASK") List<Long> ids, @Mixin Output output) {
    decide(ids, "retry", "", null, output);
  }

  private void decide(
      List<Long> ids, String decision, String reason, @Nullable LocalDate until, Output output) {
    output.noCsv();
    var body = Client.object("operations", ids, "decision", decision, "reason", reason);
    if (until != null) {
      body.put("until", until.toString());
    }
    var decided = client.post("/api/v1/operations/decide", body);
    var lines = new ArrayList<String>();
    lines.add(
        Output.count(decided.path("decided").asLong(), "task is decided.", "tasks are decided."));
    decided
        .path("left")
        .forEach(left ->
            lines.add(
                "  ! %s: %s"
                    .formatted(
                        left.path("operation").asString(), left.path("sentence").asString())));
    output.one(decided, lines);
    if (decided.path("decided").asInt() == 0) {
      throw new Client.Failed("Nothing was decided.");
    }
  }
}
