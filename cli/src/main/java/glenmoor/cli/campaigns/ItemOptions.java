package glenmoor.cli.campaigns;

import glenmoor.cli.Client;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Which items of a round or a review. */
final class ItemOptions {
  @Option(
      names = "--state",
      description =
          "undecided, decided, open, kept, announced, removing, gone, handed, again, ended or following")
  private @Nullable String state;

  @Option(names = "--judgement", description = "keep or revoke")
  private @Nullable String judgement;

  @Option(names = "--suggestion", description = "keep, look or revoke")
  private @Nullable String suggestion;

  @Option(names = "--application", description = "In one application only")
  private @Nullable String application;

  @Option(names = "--of", paramLabel = "WORKER", description = "Of one person only")
  private @Nullable String worker;

  @Option(names = "--only", description = "privileged, conflict or idle")
  private @Nullable String only;

  /** Lists them. */
  void list(String path, Client client, Paging paging, Output output, String zone) {
    var page =
        paging.of(
            client,
            path,
            "state",
            state,
            "judgement",
            judgement,
            "suggestion",
            suggestion,
            "application",
            application,
            "worker",
            worker,
            "only",
            only);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ITEM", "id"),
            Column.of("WORKER", "worker"),
            Column.of("PERSON", "person"),
            Column.of("WHAT", "name"),
            Column.of("IN", "applicationName"),
            Column.of("WHY", "why"),
            new Column("LAST USED", row -> Output.moment(row.path("lastUsed"), zone)),
            Column.of("SUGGESTED", "suggestion"),
            Column.of("STATE", "state"),
            Column.of("JUDGED", "judgement"),
            Column.of("BY", "decidedBy")),
        "Nothing matches.");
  }
}
