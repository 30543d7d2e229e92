package glenmoor.cli.people;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code glenmoor people}. */
@Command(name = "people", description = "People: who there is, what each has, and why.")
public final class PeopleCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists people by name.",
      footer = {
        "",
        "Example: glenmoor people list kerr --where location=Westholm --standing active"
      })
  void list(
      @Parameters(
              arity = "0..1",
              paramLabel = "TEXT",
              description = "Part of a name, or the beginning of a worker number")
          @Nullable String text,
      @Option(names = "--standing", description = "expected, active, on-leave or left")
          @Nullable String standing,
      @Option(
              names = "--where",
              paramLabel = "FACT=VALUE",
              description = "Only people with this fact; may be given again")
          @Nullable List<String> where,
      @Option(names = "--source", description = "Only people whom this source brings")
          @Nullable String source,
      @Option(
              names = "--sort",
              description = "name, worker or starts; -name for the last first. Default: name")
          @Nullable String sort,
      @Option(names = "--count", description = "Say how many there are in all") boolean count,
      @Mixin Paging paging,
      @Mixin Output output) {
    var filters = where == null ? List.<String>of() : where.stream().map(this::filter).toList();
    var page =
        paging.of(
            client,
            "/api/v1/people",
            "text",
            text,
            "standing",
            standing,
            "filter",
            filters,
            "source",
            source,
            "sort",
            sort,
            "count",
            count ? "true" : null);
    output.list(page, page.path("items"), columns(page.path("columns")), "Nobody matches.");
  }

  private String filter(String where) {
    var equals = where.indexOf('=');
    if (equals <= 0) {
      throw wrong(
          "“%s” is no fact with a value; say for example --where location=Westholm."
              .formatted(where));
    }
    return where.substring(0, equals) + ":" + where.substring(equals + 1);
  }

  /** The worker, the name, the standing, and the facts that are configured to be columns. */
  static List<Column> columns(JsonNode facts) {
    var columns = new ArrayList<Column>();
    columns.add(Column.of("WORKER", "worker"));
    columns.add(Column.of("NAME", "name"));
    columns.add(Column.of("STANDING", "standing"));
    facts.forEach(fact ->
        columns.add(
            Column.of(
                fact.path("name").asString().toUpperCase(Locale.ROOT),
                "facts/" + fact.path("key").asString())));
    return columns;
  }

  @Command(
      name = "work-list",
      mixinStandardHelpOptions = true,
      description = {
        "Lists people about whom something could not be computed, and what.",
        "They keep the access they have until it is mended."
      })
  void workList(@Mixin Output output) {
    var all = client.get("/api/v1/work-list");
    var zone = zone();
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("WORKER", "worker"),
            Column.of("NAME", "name"),
            new Column(
                "WHERE",
                row ->
                    row.path("place").asString("").isEmpty()
                        ? "all of it"
                        : row.path("place").asString()),
            new Column("SINCE", row -> Output.moment(row.path("since"), zone)),
            Column.of("SENTENCE", "sentence")),
        "Everybody could be planned for.");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows one person: facts, accounts and what they hold.")
  void show(@Parameters(paramLabel = "WORKER") String worker, @Mixin Output output) {
    output.noCsv();
    var path = "/api/v1/people/" + Client.encoded(worker);
    var shown = client.get(path);
    var accounts = client.get(path + "/accounts");
    if (!output.isTable()) {
      output.json(shown);
      return;
    }
    var person = shown.path("person");
    output.line(
        "%s — %s%s"
            .formatted(
                person.path("name").asString(),
                person.path("standing").asString(),
                person.path("waits").asBoolean() ? "; they count once that was agreed to" : ""));
    shown
        .path("facts")
        .forEach(fact ->
            output.line(
                "  %-14s %s"
                    .formatted(fact.path("name").asString(), fact.path("value").asString())));
    for (var account : accounts) {
      output.line("");
      output.line(
          "%s: %s, %s"
              .formatted(
                  account.path("applicationName").asString(),
                  account.path("name").asString(),
                  state(account)));
      for (var holding : account.path("holdings")) {
        output.line(
            "  %-42s %s".formatted(holding.path("entitlement").asString(), holding(holding)));
      }
      for (var deviation : account.path("deviations")) {
        output.line(
            "  %-42s differs, accepted by %s: %s"
                .formatted(
                    deviation.path("aspect").asString().replaceFirst("^entitlement:", ""),
                    deviation.path("acceptedBy").asString(),
                    deviation.path("reason").asString()));
      }
    }
  }

  private static String state(JsonNode account) {
    var desired = account.path("state").asString();
    var seen = account.path("seenState").asString();
    return desired.equals(seen) ? seen : seen + ", to be " + desired;
  }

  private static String holding(JsonNode holding) {
    var observed = holding.path("observed").asBoolean();
    return observed == holding.path("desired").asBoolean()
        ? "confirmed"
        : observed ? "being removed" : "being added";
  }

  @Command(
      name = "why",
      mixinStandardHelpOptions = true,
      description = "Prints the chain from a person's facts to a right: why they have it.",
      footer = {"", "Example: glenmoor people why W-01007 directory/crew"})
  void why(
      @Parameters(paramLabel = "WORKER") String worker,
      @Parameters(
              paramLabel = "ENTITLEMENT",
              description = "Its key, its technical or its plain name")
          String entitlement,
      @Mixin Output output) {
    var answer =
        client.get(
            "/api/v1/people/%s/why%s"
                .formatted(Client.encoded(worker), Client.query("entitlement", entitlement)));
    output.one(answer, why(worker, answer, zone()));
  }

  private static List<String> why(String worker, JsonNode answer, String zone) {
    var lines = new ArrayList<String>();
    var name = answer.path("entitlement").path("plainName").asString();
    var observed = answer.path("observed").asBoolean();
    lines.add(
        observed
            ? "%s holds “%s”, confirmed %s."
                .formatted(worker, name, Output.moment(answer.path("observedSince"), zone))
            : "%s does not hold “%s”.".formatted(worker, name));
    if (answer.path("paths").isEmpty()) {
      lines.add("No grant gives it.");
    }
    for (var path : answer.path("paths")) {
      lines.add("");
      lines.add(path.path("sentence").asString());
      var first = true;
      for (var link : path.path("links")) {
        var detail = link.path("detail").asString("");
        lines.add(
            "  %s %-12s %s%s"
                .formatted(
                    first ? " " : "→",
                    link.path("kind").asString(),
                    link.path("text").asString(),
                    detail.isEmpty() ? "" : "  [" + detail + "]"));
        first = false;
      }
    }
    return lines;
  }

  @Command(
      name = "what-if",
      mixinStandardHelpOptions = true,
      description = {
        "Says what would become of somebody's access if facts of theirs were others today.",
        "Nothing is kept and nothing is done."
      },
      footer = {
        "",
        "Example: glenmoor people what-if W-01007 --fact 'department=Engine Room' --fact grade=3"
      })
  void whatIf(
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(
              names = "--fact",
              paramLabel = "FACT=VALUE",
              required = true,
              description =
                  "What would be otherwise; an empty value takes it away; may be given again")
          Map<String, String> facts,
      @Mixin Output output) {
    var answer =
        client.post(
            "/api/v1/people/%s/what-if".formatted(Client.encoded(worker)), Map.of("facts", facts));
    var zone = zone();
    if (output.isTable()) {
      output.line(
          "%s would be %s%s."
              .formatted(
                  answer.path("name").asString(),
                  answer.path("standing").asString(),
                  answer.path("event").isNull()
                      ? "; nothing would differ"
                      : ", by a " + answer.path("event").asString()));
    }
    output.list(
        answer,
        answer.path("rights"),
        List.of(
            Column.of("BECOMES", "fate"),
            Column.of("RIGHT", "name"),
            Column.of("APPLICATION", "application"),
            Column.of("ENTITLEMENT", "entitlement"),
            new Column("UNTIL", right -> Output.moment(right.path("until"), zone))),
        "They have no right, and would have none.");
    if (output.isTable()) {
      answer
          .path("accounts")
          .forEach(each ->
              output.line(
                  "%s, %s: %s"
                      .formatted(
                          each.path("name").asString(),
                          each.path("account").asString(),
                          each.path("what").asString())));
      answer.path("troubles").forEach(each -> output.line("! " + each.asString()));
    }
  }

  @Command(
      name = "passcode",
      mixinStandardHelpOptions = true,
      description = "Gives an account a new passcode and prints it once.")
  void passcode(
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(
              names = "--application",
              defaultValue = "directory",
              description = "Where. Default: directory")
          String application,
      @Mixin Output output) {
    output.noCsv();
    var issued =
        client.post(
            "/api/v1/people/%s/passcode%s"
                .formatted(Client.encoded(worker), Client.query("application", application)),
            null);
    var operation = settled(issued.path("operation").asString());
    if (!operation.path("state").asString().equals("confirmed")) {
      throw new Client.Failed(
          "The passcode is not set yet: operation %s is %s. %s"
              .formatted(
                  operation.path("id").asString(),
                  operation.path("state").asString(),
                  operation.path("reason").asString()));
    }
    output.one(
        issued,
        List.of(
            operation.path("reason").asString("").isEmpty()
                ? "%s in %s now opens with"
                    .formatted(issued.path("account").asString(), application)
                : "%s in %s: %s. It would open with"
                    .formatted(
                        issued.path("account").asString(),
                        application,
                        operation.path("reason").asString()),
            "  " + issued.path("passcode").asString(),
            "It is shown this once."));
  }

  private JsonNode settled(String operation) {
    JsonNode shown = client.get("/api/v1/operations/" + operation);
    for (var tries = 0; tries < 50 && shown.path("settledAt").isNull(); tries++) {
      try {
        Thread.sleep(100);
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
      }
      shown = client.get("/api/v1/operations/" + operation);
    }
    return shown;
  }

  @Command(
      name = "record",
      mixinStandardHelpOptions = true,
      description = {
        "Writes somebody's record in a form of the people desk: facts that are not said stay as they are.",
        "It is checked like a row of a file, and loaded at once. Without WORKER a number is made up, where the form does that."
      },
      footer = {
        "",
        "Example: glenmoor people record partners P-07 --fact kind=partner --fact given=Signe --fact start=2027-04-01"
      })
  void record(
      @Parameters(paramLabel = "SOURCE") String source,
      @Parameters(arity = "0..1", paramLabel = "WORKER") @Nullable String worker,
      @Option(
              names = "--fact",
              paramLabel = "FACT=VALUE",
              description = "A fact; an empty one is taken away")
          Map<String, String> said,
      @Option(
              names = "--reason",
              description = "What they are needed for, where that has to be agreed to")
          @Nullable String reason,
      @Mixin Output output) {
    var path = "/api/v1/records/" + Client.encoded(source);
    var known =
        worker == null
            ? JsonMapper.shared().createObjectNode()
            : client.get(path + Client.query("worker", worker));
    var facts = new TreeMap<String, Object>();
    known
        .path("facts")
        .properties()
        .forEach(each -> facts.put(each.getKey(), each.getValue().asString()));
    if (said != null) {
      facts.putAll(said);
    }
    var written =
        client.put(
            path,
            Map.of(
                "worker",
                worker == null ? "" : worker,
                "facts",
                facts,
                "reason",
                reason == null ? "" : reason));
    var events =
        written.path("events").properties().stream()
            .map(each -> each.getKey())
            .collect(Collectors.joining(", "));
    output.one(
        written,
        List.of(
            "%s: %s%s"
                .formatted(
                    written.path("worker").asString(),
                    events.isEmpty() ? "nothing was changed" : events,
                    written.path("waits").asBoolean()
                        ? "; they count once that was agreed to"
                        : "")));
  }
}
