package glenmoor.cli.provisioning;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor operations}. */
@Command(
    name = "operations",
    description = "Operations: what waits, what was done, and mending faults.")
public final class OperationsCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists operations, newest first.")
  void list(
      @Option(
              names = "--state",
              description = "waiting, confirmed, fault, task, by-hand, given-up or superseded")
          @Nullable String state,
      @Option(names = "--kind", description = "create, update, enable, disable, add, remove, …")
          @Nullable String kind,
      @Option(names = "--application", description = "Only in this application")
          @Nullable String application,
      @Option(names = "--worker", description = "Only for this person") @Nullable String worker,
      @Option(names = "--event", description = "Only those that follow from this event")
          @Nullable Long event,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page =
        paging.of(
            client,
            "/api/v1/operations",
            "state",
            state,
            "kind",
            kind,
            "application",
            application,
            "worker",
            worker,
            "event",
            event);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("OPERATION", "id"),
            Column.of("APPLICATION", "application"),
            Column.of("ACCOUNT", "account"),
            new Column("WHAT", OperationsCommand::what),
            Column.of("STATE", "state"),
            Column.of("TRIES", "attempts"),
            Column.of("CAUSE", "cause"),
            Column.of("REASON", "reason")),
        "No operation matches.");
  }

  private static String what(JsonNode row) {
    var entitlement = row.path("command").path("entitlement").asString("");
    return (row.path("kind").asString() + " " + entitlement).strip();
  }

  @Command(name = "show", mixinStandardHelpOptions = true, description = "Shows one operation.")
  void show(@Parameters(paramLabel = "OPERATION") long id, @Mixin Output output) {
    shown(client.get("/api/v1/operations/" + id), output);
  }

  private void shown(JsonNode shown, Output output) {
    var zone = zone();
    output.one(
        shown,
        List.of(
            "Operation %s — %s in %s, %s"
                .formatted(
                    shown.path("id").asString(),
                    what(shown),
                    shown.path("application").asString(),
                    shown.path("state").asString()),
            "  account   %s of %s (%s)"
                .formatted(
                    shown.path("account").asString(),
                    shown.path("name").asString(),
                    shown.path("worker").asString()),
            "  cause     %s (%s)"
                .formatted(shown.path("because").asString(), shown.path("cause").asString()),
            "  command   " + shown.path("command"),
            "  created   " + Output.moment(shown.path("createdAt"), zone),
            "  sent      " + Output.moment(shown.path("sentAt"), zone),
            "  settled   " + Output.moment(shown.path("settledAt"), zone),
            "  tries     " + shown.path("attempts").asString(),
            "  reason    " + shown.path("reason").asString()));
  }

  @Command(
      name = "retry",
      mixinStandardHelpOptions = true,
      description = {
        "Tries a fault again, or with --all every fault and all that waits after a try.",
        "The old operation is never sent again: its person is planned anew, as things are now."
      })
  void retry(
      @Parameters(arity = "0..1", paramLabel = "OPERATION") @Nullable Long id,
      @Option(names = "--all", description = "All of them") boolean all,
      @Option(names = "--application", description = "With --all: only in this application")
          @Nullable String application,
      @Option(names = "--kind", description = "With --all: only of this kind, such as add")
          @Nullable String kind,
      @Option(
              names = "--matching",
              paramLabel = "TEXT",
              description = "With --all: only those of whose reason this is a part")
          @Nullable String matching,
      @Option(
              names = "--forecast",
              description = "With --all: say what it would do, and do nothing")
          boolean forecast,
      @Mixin Output output) {
    output.noCsv();
    if (!all) {
      if (id == null) {
        throw wrong("Say which operation, or --all.");
      }
      shown(client.post("/api/v1/operations/" + id + "/retry", null), output);
      return;
    }
    if (id != null) {
      throw wrong("Say one operation or --all, not both.");
    }
    var filter = Client.query("application", application, "kind", kind, "reason", matching);
    var would =
        client.post(
            "/api/v1/operations/retry" + filter + (filter.isEmpty() ? "?" : "&") + "forecast=true",
            null);
    if (forecast) {
      output.one(would, forecast(would));
      return;
    }
    var retried = client.post("/api/v1/operations/retry" + filter, null);
    var lines = forecast(would);
    lines.add(
        Output.count(
            retried.path("operations").asLong(),
            "operation is superseded, and its person planned anew.",
            "operations are superseded, and their people planned anew."));
    output.one(retried, lines);
  }

  private static List<String> forecast(JsonNode would) {
    var lines = new ArrayList<String>();
    lines.add(
        Output.count(would.path("operations").asLong(), "operation", "operations")
            + " can be tried again; planning anew gives "
            + counts(would.path("forecast").path("operationsByKind"))
            + ".");
    would
        .path("byApplication")
        .properties()
        .forEach(
            each -> lines.add("  %-14s %s".formatted(each.getKey(), each.getValue().asString())));
    return lines;
  }

  private static String counts(JsonNode kinds) {
    var text =
        kinds.properties().stream()
            .map(each -> each.getValue().asString() + " " + each.getKey())
            .collect(Collectors.joining(", "));
    return text.isEmpty() ? "nothing to do" : text;
  }

  @Command(
      name = "by-hand",
      mixinStandardHelpOptions = true,
      description = "Says that a fault was mended in the application by hand.")
  void byHand(
      @Parameters(paramLabel = "OPERATION") long id,
      @Option(names = "--reason", required = true, description = "What was done") String reason,
      @Mixin Output output) {
    output.noCsv();
    shown(
        client.post("/api/v1/operations/" + id + "/by-hand", Client.object("reason", reason)),
        output);
  }

  @Command(
      name = "give-up",
      mixinStandardHelpOptions = true,
      description = "Accepts that what a fault should bring about is not so, until a day.")
  void giveUp(
      @Parameters(paramLabel = "OPERATION") long id,
      @Option(names = "--reason", required = true, description = "Why not") String reason,
      @Option(
              names = "--until",
              paramLabel = "DAY",
              description = "The last day of it, such as 2027-05-31. Default: in 90 days")
          @Nullable LocalDate until,
      @Mixin Output output) {
    output.noCsv();
    var body = Client.object("reason", reason);
    if (until != null) {
      body.put("until", until.toString());
    }
    shown(client.post("/api/v1/operations/" + id + "/give-up", body), output);
  }

  @Command(
      name = "deviations",
      mixinStandardHelpOptions = true,
      description = "Lists differences that somebody answers for, with who, why and until when.")
  void deviations(
      @Option(names = "--application", description = "Only in this application")
          @Nullable String application,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/deviations", "application", application);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("APPLICATION", "application"),
            Column.of("ACCOUNT", "account"),
            Column.of("WORKER", "worker"),
            Column.of("DIFFERS", "aspect"),
            Column.of("ACCEPTED BY", "acceptedBy"),
            new Column("UNTIL", row -> Output.moment(row.path("until"), zone)),
            Column.of("REASON", "reason")),
        "Nothing differs that somebody answers for.");
  }
}
