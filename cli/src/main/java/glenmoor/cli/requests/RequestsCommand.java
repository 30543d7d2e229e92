package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor requests}. */
@Command(name = "requests", description = "Asking for access.")
public final class RequestsCommand extends Group {
  private static final String PATH = "/api/v1/requests";

  /** What somebody did, after their name. */
  private static final Map<String, String> NOTES =
      Map.ofEntries(
          Map.entry("approve", "agreed"),
          Map.entry("decline", "declined"),
          Map.entry("hold", "waits"),
          Map.entry("go-on", "goes on"),
          Map.entry("pass-on", "passed on"),
          Map.entry("ask-back", "asks back"),
          Map.entry("asked", "asked as well"),
          Map.entry("nobody", "found nobody"),
          Map.entry("approved", "all agreed"));

  @Command(
      name = "new",
      mixinStandardHelpOptions = true,
      description = {
        "Asks for something, for yourself or for others.",
        "With --preview it only says who would be asked, and what it would give."
      },
      footer = {
        "",
        "Example: glenmoor requests new ticket-desk --answer harbour=Westholm --reason 'the Easter sailings'"
      })
  void ask(
      @Parameters(paramLabel = "OFFER") String offer,
      @Option(names = "--for", paramLabel = "WORKER", description = "For whom; may be repeated")
          @Nullable List<String> workers,
      @Option(names = "--reason", description = "What it is needed for") @Nullable String reason,
      @Mixin AskOptions ask,
      @Option(names = "--preview", description = "Say what would come of it, and ask for nothing")
          boolean preview,
      @Mixin Output output) {
    var lines = new ArrayList<Map<String, Object>>();
    for (var worker : workers == null ? List.of("") : workers) {
      var line = new HashMap<String, Object>();
      line.put("offer", offer);
      line.put("worker", worker);
      line.put("reason", reason == null ? "" : reason);
      ask.to(line);
      lines.add(line);
    }
    var body = Map.of("lines", lines);
    if (preview) {
      var would = client.post(PATH + "/preview", body);
      output.one(would, previewed(would));
      return;
    }
    shown(client.post(PATH, body), output);
  }

  private List<String> previewed(JsonNode would) {
    var said = new ArrayList<String>();
    var zone = zone();
    for (var line : would) {
      said.add(
          "%s for %s, %s"
              .formatted(
                  line.path("name").asString(),
                  line.path("subject").path("name").asString(),
                  term(line.path("startsAt"), line.path("endsAt"), zone)));
      said.add("  gives " + joined(line.path("gives"), each -> each.path("name").asString()));
      for (var conflict : line.path("conflicts")) {
        said.add(
            "  would break “%s”: %s"
                .formatted(conflict.path("name").asString(), conflict.path("risk").asString()));
      }
      for (var stage : line.path("stages")) {
        said.add("  " + wouldAsk(stage));
      }
    }
    return said;
  }

  private static String wouldAsk(JsonNode stage) {
    var note = stage.path("note").asString();
    return "%s: %s%s"
        .formatted(
            joined(stage.path("ask"), JsonNode::asString),
            stage.path("who").isEmpty()
                ? "nobody"
                : joined(stage.path("who"), each -> each.path("name").asString()),
            note.isEmpty() ? "" : " — " + note);
  }

  private static String term(JsonNode from, JsonNode until, String zone) {
    return until.isNull() || until.isMissingNode()
        ? "from %s, open-ended".formatted(Output.moment(from, zone))
        : "from %s to %s".formatted(Output.moment(from, zone), Output.moment(until, zone));
  }

  private static String joined(JsonNode all, Function<JsonNode, String> word) {
    return StreamSupport.stream(all.spliterator(), false)
        .map(word)
        .collect(Collectors.joining(", "));
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a request, with how each of its lines stands.")
  void show(@Parameters(paramLabel = "REQUEST") long id, @Mixin Output output) {
    shown(client.get(PATH + "/" + id), output);
  }

  private void shown(JsonNode request, Output output) {
    var said = new ArrayList<String>();
    var zone = zone();
    said.add(
        "Request %s, asked for by %s on %s"
            .formatted(
                request.path("id").asString(),
                request.path("askedBy").asString(),
                Output.moment(request.path("askedAt"), zone)));
    for (var line : request.path("lines")) {
      said.add(
          "%s for %s: %s%s"
              .formatted(
                  line.path("name").asString(),
                  line.path("subject").path("name").asString(),
                  line.path("state").asString(),
                  line.path("endReason").asString().isEmpty()
                      ? ""
                      : " (%s)".formatted(line.path("endReason").asString())));
      for (var stage : line.path("stages")) {
        said.add("  " + stage(stage, zone));
      }
      for (var conflict : line.path("conflicts")) {
        said.add(
            "  breaks “%s”: %s"
                .formatted(conflict.path("name").asString(), conflict.path("risk").asString()));
      }
      if (!line.path("exemptControl").asString().isEmpty()) {
        said.add(
            "  allowed until %s; instead: %s"
                .formatted(
                    Output.moment(line.path("exemptUntil"), zone),
                    line.path("exemptControl").asString()));
      }
      if (!line.path("givenFrom").isNull()) {
        said.add("  given " + term(line.path("givenFrom"), line.path("givenUntil"), zone));
        said.add(
            "  "
                + joined(
                    line.path("became"),
                    each ->
                        each.path("entitlement").asString() + " " + each.path("state").asString()));
      }
    }
    for (var note : request.path("notes")) {
      said.add(
          "%s  %s%s: %s %s"
              .formatted(
                  Output.moment(note.path("at"), zone),
                  note.path("by").asString(),
                  note.path("forPerson").asString().isEmpty()
                      ? ""
                      : " in the place of " + note.path("forPerson").asString(),
                  NOTES.getOrDefault(note.path("what").asString(), note.path("what").asString()),
                  note.path("text").asString()));
    }
    output.one(request, said);
  }

  private static String stage(JsonNode stage, String zone) {
    var state = stage.path("state").asString();
    var who = joined(stage.path("who"), each -> each.path("name").asString());
    return switch (state) {
      case "open", "held" ->
          "stage %d, %s: waits for %s, until %s"
              .formatted(
                  stage.path("number").asInt(),
                  joined(stage.path("ask"), JsonNode::asString),
                  who.isEmpty() ? "an administrator" : who,
                  Output.moment(stage.path("lapsesAt"), zone));
      default ->
          "stage %d, %s: %s%s"
              .formatted(
                  stage.path("number").asInt(),
                  joined(stage.path("ask"), JsonNode::asString),
                  state,
                  stage.path("settledBy").asString().isEmpty()
                      ? ""
                      : " by " + stage.path("settledBy").asString());
    };
  }

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description =
          "Lists what you asked for, or get; with --everybody, for those who may see that, all of it.")
  void list(
      @Option(names = "--everybody", description = "What anybody asked for") boolean everybody,
      @Option(names = "--for", paramLabel = "WORKER", description = "For whom")
          @Nullable String worker,
      @Option(names = "--offer", description = "Of one offer only") @Nullable String offer,
      @Option(
              names = "--state",
              description = "open, approved, declined, lapsed, withdrawn or dropped")
          @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    listed(
        paging, output, everybody ? "all" : "mine", worker, offer, state, "Nothing was asked for.");
  }

  private void listed(
      Paging paging,
      Output output,
      String whose,
      @Nullable String worker,
      @Nullable String offer,
      @Nullable String state,
      String empty) {
    var page =
        paging.of(client, PATH, "whose", whose, "worker", worker, "offer", offer, "state", state);
    output.list(page, page.path("items"), columns(zone()), empty);
  }

  static List<Column> columns(String zone) {
    return List.of(
        Column.of("LINE", "line"),
        Column.of("REQUEST", "request"),
        Column.of("PACKAGE", "name"),
        Column.of("FOR", "person"),
        Column.of("ASKED BY", "askedBy"),
        new Column("ON", row -> Output.moment(row.path("askedAt"), zone)),
        Column.of("STATE", "state"),
        Column.of("REASON", "reason"));
  }

  @Command(
      name = "withdraw",
      mixinStandardHelpOptions = true,
      description = "Takes back what is still open of a request.")
  void withdraw(
      @Parameters(paramLabel = "REQUEST") long id,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Output output) {
    shown(
        client.post(PATH + "/" + id + "/withdraw", Map.of("reason", reason == null ? "" : reason)),
        output);
  }

  @Command(
      name = "comment",
      mixinStandardHelpOptions = true,
      description = "Says something about a request, for all to read whom it concerns.")
  void comment(
      @Parameters(paramLabel = "REQUEST") long id,
      @Parameters(paramLabel = "TEXT") String text,
      @Mixin Output output) {
    shown(client.post(PATH + "/" + id + "/comments", Client.object("text", text)), output);
  }
}
