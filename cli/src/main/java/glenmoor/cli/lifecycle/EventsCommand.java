package glenmoor.cli.lifecycle;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor events}. */
@Command(
    name = "events",
    description = "Joiners, movers, leavers: what was detected, and how far it has come.")
public final class EventsCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists events, newest first.")
  void list(
      @Option(names = "--kind", description = "Only these: joiner, mover, leaver, correction, …")
          @Nullable String kind,
      @Option(names = "--worker", description = "Only of this person") @Nullable String worker,
      @Option(names = "--feed", description = "Only from this feed") @Nullable Long feed,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/events", "kind", kind, "worker", worker, "feed", feed);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            new Column("DETECTED", row -> Output.moment(row.path("detectedAt"), zone)),
            Column.of("KIND", "kind"),
            new Column("FROM", row -> row.path("effectiveOn").asString("once agreed to")),
            Column.of("WORKER", "worker"),
            Column.of("NAME", "name"),
            new Column("PROGRESS", EventsCommand::progress),
            new Column("CHANGES", EventsCommand::changes)),
        "No event was detected yet. Events come from feeds: glenmoor feeds load FILE");
  }

  private static String progress(JsonNode row) {
    var all = row.path("operations").asInt();
    var confirmed = row.path("confirmed").asInt();
    if (row.path("plannedAt").isNull()) {
      return "detected";
    }
    if (row.path("faults").asInt() > 0) {
      return "%d of %d confirmed, %d faults".formatted(confirmed, all, row.path("faults").asInt());
    }
    return all == 0 ? "planned, nothing to do" : "%d of %d confirmed".formatted(confirmed, all);
  }

  private static String changes(JsonNode row) {
    var text = new StringBuilder();
    for (var change : row.path("changes")) {
      text.append(text.isEmpty() ? "" : "; ")
          .append(change.path("fact").asString())
          .append(": ")
          .append(orNone(change.path("before").asString()))
          .append(" → ")
          .append(orNone(change.path("after").asString()));
    }
    return text.toString();
  }

  private static String orNone(String text) {
    return text.isEmpty() ? "none" : text;
  }
}
