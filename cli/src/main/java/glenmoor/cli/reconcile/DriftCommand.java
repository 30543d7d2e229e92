package glenmoor.cli.reconcile;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor drift}. */
@Command(
    name = "drift",
    description = "Drift: how applications differ from what is expected of them.")
public final class DriftCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists open drift, or with --state settled what was decided; newest first.")
  void list(
      @Option(names = "--application", description = "Only in this application")
          @Nullable String application,
      @Option(
              names = "--kind",
              description =
                  "stray-account, ghost-account, missing-account, extra-entitlement, missing-entitlement or altered-attribute")
          @Nullable String kind,
      @Option(names = "--state", defaultValue = "open", description = "open or settled")
          String state,
      @Option(names = "--response", description = "report, repair, adopt or ask")
          @Nullable String response,
      @Option(names = "--worker", description = "Only of this person") @Nullable String worker,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page =
        paging.of(
            client,
            "/api/v1/drift",
            "application",
            application,
            "kind",
            kind,
            "state",
            state,
            "response",
            response,
            "worker",
            worker);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("DRIFT", "id"),
            Column.of("APPLICATION", "application"),
            Column.of("KIND", "kind"),
            Column.of("ACCOUNT", "account"),
            Column.of("WORKER", "worker"),
            new Column("DIFFERS", DriftCommand::differs),
            state.equals("open")
                ? Column.of("ANSWER", "response")
                : Column.of("OUTCOME", "outcome"),
            Column.of("REASON", "reason")),
        state.equals("open")
            ? "Nothing differs, as far as the last reconciles saw."
            : "Nothing matches.");
  }

  /** {@code title: deckhand → captain}; of an account that is nobody's what is known of it. */
  private static String differs(JsonNode row) {
    if (row.path("kind").asString().equals("stray-account")) {
      return row.path("found").properties().stream()
          .map(each -> each.getKey() + ": " + each.getValue().asString())
          .collect(Collectors.joining("; "));
    }
    var keys = new TreeSet<String>();
    row.path("expected").properties().forEach(each -> keys.add(each.getKey()));
    row.path("found").properties().forEach(each -> keys.add(each.getKey()));
    return keys.stream()
        .map(key ->
            "%s: %s → %s"
                .formatted(
                    key,
                    orNothing(row.path("expected").path(key)),
                    orNothing(row.path("found").path(key))))
        .collect(Collectors.joining("; "));
  }

  private static String orNothing(JsonNode value) {
    var text = value.asString("");
    return text.isEmpty() ? "nothing" : text;
  }

  @Command(name = "show", mixinStandardHelpOptions = true, description = "Shows one difference.")
  void show(@Parameters(paramLabel = "DRIFT") long id, @Mixin Output output) {
    shown(client.get("/api/v1/drift/" + id), output);
  }

  private void shown(JsonNode shown, Output output) {
    output.noCsv();
    var zone = zone();
    var lines = new ArrayList<String>();
    lines.add(
        "Drift %s — %s in %s, %s"
            .formatted(
                shown.path("id").asString(),
                shown.path("sentence").asString(),
                shown.path("application").asString(),
                shown.path("state").asString()));
    lines.add(
        "  account     %s%s"
            .formatted(
                shown.path("account").asString(),
                shown.path("worker").asString("").isEmpty()
                    ? ", nobody's"
                    : " of %s (%s)"
                        .formatted(
                            shown.path("name").asString(), shown.path("worker").asString())));
    lines.add("  differs     " + differs(shown));
    lines.add("  first seen  " + Output.moment(shown.path("firstSeenAt"), zone));
    lines.add("  last seen   " + Output.moment(shown.path("lastSeenAt"), zone));
    lines.add("  by itself   " + shown.path("response").asString());
    if (!shown.path("outcome").asString("").isEmpty()) {
      lines.add(
          "  settled     %s %s, %s"
              .formatted(
                  shown.path("outcome").asString(),
                  shown.path("settledBy").asString(),
                  Output.moment(shown.path("settledAt"), zone)));
    }
    if (!shown.path("reason").asString("").isEmpty()) {
      lines.add("  reason      " + shown.path("reason").asString());
    }
    output.one(shown, lines);
  }

  @Command(
      name = "repair",
      mixinStandardHelpOptions = true,
      description = "Has the application made as it should be.")
  void repair(
      @Parameters(arity = "1..*", paramLabel = "DRIFT") List<Long> ids,
      @Option(names = "--reason", required = true, description = "Why") String reason,
      @Mixin Output output) {
    several("repair", ids, reason, "repair ordered", output);
  }

  @Command(
      name = "adopt",
      mixinStandardHelpOptions = true,
      description = "Lets people have the rights they were found to have, as grants.")
  void adopt(
      @Parameters(arity = "1..*", paramLabel = "DRIFT") List<Long> ids,
      @Option(names = "--reason", required = true, description = "Why") String reason,
      @Mixin Output output) {
    several("adopt", ids, reason, "adopted", output);
  }

  private void several(String verb, List<Long> ids, String reason, String done, Output output) {
    output.noCsv();
    var body = Client.object("reason", reason, "drift", ids);
    var decided = client.post("/api/v1/drift/" + verb, body);
    var lines = new ArrayList<String>();
    lines.add("%s: %s".formatted(decided.path("decided").asString(), done));
    if (decided.path("leftOpen").asInt() > 0) {
      lines.add(
          "%s left open: settled, of another kind, or something was done for the account since."
              .formatted(decided.path("leftOpen").asString()));
    }
    output.one(decided, lines);
  }

  @Command(
      name = "accept",
      mixinStandardHelpOptions = true,
      description = "Lets a difference be, until a day.")
  void accept(
      @Parameters(paramLabel = "DRIFT") long id,
      @Option(names = "--reason", required = true, description = "Why") String reason,
      @Option(
              names = "--until",
              paramLabel = "DAY",
              description = "The last day of it, such as 2027-05-31. Default: in 90 days")
          @Nullable LocalDate until,
      @Mixin Output output) {
    var body = Client.object("reason", reason);
    if (until != null) {
      body.put("until", until.toString());
    }
    shown(client.post("/api/v1/drift/" + id + "/accept", body), output);
  }

  @Command(
      name = "attach",
      mixinStandardHelpOptions = true,
      description = "Says whose an account is that was nobody's: it is theirs from then on.")
  void attach(
      @Parameters(paramLabel = "DRIFT") long id,
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(names = "--reason", required = true, description = "Why") String reason,
      @Mixin Output output) {
    shown(
        client.post(
            "/api/v1/drift/" + id + "/attach", Client.object("worker", worker, "reason", reason)),
        output);
  }

  @Command(
      name = "declare",
      mixinStandardHelpOptions = true,
      description = "Says what an account that is nobody's is for, and who answers for it.")
  void declare(
      @Parameters(paramLabel = "DRIFT") long id,
      @Option(
              names = "--owner",
              required = true,
              paramLabel = "WORKER",
              description = "Who answers for it")
          String owner,
      @Option(names = "--purpose", required = true, description = "What it is for") String purpose,
      @Option(
              names = "--until",
              paramLabel = "DAY",
              description = "The last day of it, such as 2027-05-31. Default: in 90 days")
          @Nullable LocalDate until,
      @Mixin Output output) {
    var body = Client.object("owner", owner, "purpose", purpose);
    if (until != null) {
      body.put("until", until.toString());
    }
    shown(client.post("/api/v1/drift/" + id + "/declare", body), output);
  }

  @Command(
      name = "remove",
      mixinStandardHelpOptions = true,
      description = "Deletes an account that is nobody's. This cannot be undone.")
  void remove(
      @Parameters(paramLabel = "DRIFT") long id,
      @Option(names = "--reason", required = true, description = "Why") String reason,
      @Mixin Output output) {
    shown(client.post("/api/v1/drift/" + id + "/remove", Client.object("reason", reason)), output);
  }

  @Command(
      name = "service-accounts",
      mixinStandardHelpOptions = true,
      description = "Lists accounts that are nobody's and declared.")
  void serviceAccounts(
      @Option(names = "--application", description = "Only in this application")
          @Nullable String application,
      @Option(names = "--end", paramLabel = "ID", description = "Ends this declaration")
          @Nullable Long ended,
      @Mixin Paging paging,
      @Mixin Output output) {
    if (ended != null) {
      client.post("/api/v1/service-accounts/" + ended + "/end", null);
    }
    var page = paging.of(client, "/api/v1/service-accounts", "application", application);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ID", "id"),
            Column.of("APPLICATION", "application"),
            Column.of("ACCOUNT", "name"),
            Column.of("OWNER", "owner"),
            Column.of("NAME", "ownerName"),
            Column.of("UNTIL", "until"),
            Column.of("PURPOSE", "purpose")),
        "No account is declared.");
  }
}
