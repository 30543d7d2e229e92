package glenmoor.cli.jobs;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** {@code glenmoor jobs}. */
@Command(
    name = "jobs",
    description = "What the service does again and again, and when it last did.")
public final class JobsCommand extends Group {
  @Command(name = "list", mixinStandardHelpOptions = true, description = "Lists the jobs.")
  void list(@Mixin Output output) {
    var all = client.get("/api/v1/jobs");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("JOB", "name"),
            new Column("STATE", row -> row.path("late").asBoolean() ? "late" : "on time"),
            new Column("LAST DONE", row -> Output.moment(row.path("lastSuccess"), "UTC")),
            new Column("LAST FAILED", row -> Output.moment(row.path("lastFailure"), "UTC")),
            Column.of("FAILED IN A ROW", "failures"),
            Column.of("WHAT", "what")),
        "No job has run yet.");
  }
}
