package glenmoor.cli.provisioning;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
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
      @Option(names = "--state", description = "waiting, confirmed, fault, by-hand or given-up")
          @Nullable String state,
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
    var entitlement = row.path("order").path("entitlement").asString("");
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
            "  cause     " + shown.path("cause").asString(),
            "  order     " + shown.path("order"),
            "  created   " + Output.moment(shown.path("createdAt"), zone),
            "  sent      " + Output.moment(shown.path("sentAt"), zone),
            "  settled   " + Output.moment(shown.path("settledAt"), zone),
            "  tries     " + shown.path("attempts").asString(),
            "  reason    " + shown.path("reason").asString()));
  }

  @Command(
      name = "retry",
      mixinStandardHelpOptions = true,
      description = "Tries a fault again, or with --all every fault.")
  void retry(
      @Parameters(arity = "0..1", paramLabel = "OPERATION") @Nullable Long id,
      @Option(names = "--all", description = "All faults") boolean all,
      @Option(names = "--application", description = "With --all: only in this application")
          @Nullable String application,
      @Mixin Output output) {
    if (all) {
      var retried =
          client.post("/api/v1/operations/retry" + Client.query("application", application), null);
      output.one(
          retried, List.of(retried.path("operations").asString() + " faults are tried again."));
    } else if (id != null) {
      shown(client.post("/api/v1/operations/" + id + "/retry", null), output);
    } else {
      throw wrong("Say which operation, or --all.");
    }
  }

  @Command(
      name = "by-hand",
      mixinStandardHelpOptions = true,
      description = "Says that a fault was mended in the application by hand.")
  void byHand(
      @Parameters(paramLabel = "OPERATION") long id,
      @Option(names = "--note", required = true, description = "What was done") String note,
      @Mixin Output output) {
    shown(
        client.post("/api/v1/operations/" + id + "/by-hand", Client.object("reason", note)),
        output);
  }

  @Command(
      name = "give-up",
      mixinStandardHelpOptions = true,
      description = "Says that a fault need not be mended.")
  void giveUp(
      @Parameters(paramLabel = "OPERATION") long id,
      @Option(names = "--reason", required = true, description = "Why not") String reason,
      @Mixin Output output) {
    shown(
        client.post("/api/v1/operations/" + id + "/give-up", Client.object("reason", reason)),
        output);
  }
}
