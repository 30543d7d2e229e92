package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor approvals}. */
@Command(name = "approvals", description = "Deciding on what others ask for.")
public final class ApprovalsCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what waits for your decision.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, "/api/v1/requests", "whose", "waiting");
    output.list(
        page, page.path("items"), RequestsCommand.columns(zone()), "Nothing waits for you.");
  }

  /** For whom an administrator decides. */
  static final class Place {
    @Option(
        names = "--in-place-of",
        paramLabel = "WORKER",
        description = {
          "Administrators: in whose place, with a reason;",
          "anybody where nobody who is asked could act"
        })
    @Nullable String worker;
  }

  @Command(
      name = "approve",
      mixinStandardHelpOptions = true,
      description = "Agrees to lines; several alike at once.")
  void approve(
      @Parameters(arity = "1..*", paramLabel = "LINE") List<Long> lines,
      @Option(names = "--reason", description = "Why; some stages want to know")
          @Nullable String reason,
      @Option(
              names = "--control",
              description = "Where a conflict is allowed: what is done in its place")
          @Nullable String control,
      @Option(
              names = "--exempt-until",
              paramLabel = "DAY",
              description = "Where a conflict is allowed: the last day on which it is")
          @Nullable String exemptUntil,
      @Mixin Place place,
      @Mixin Output output) {
    var terms = new HashMap<String, Object>();
    if (control != null) {
      terms.put("control", control);
    }
    if (exemptUntil != null) {
      terms.put("exemptUntil", exemptUntil);
    }
    decide(lines, "approve", reason, place, terms, output);
  }

  @Command(name = "decline", mixinStandardHelpOptions = true, description = "Declines lines.")
  void decline(
      @Parameters(arity = "1..*", paramLabel = "LINE") List<Long> lines,
      @Option(names = "--reason", description = "Why; most stages want to know")
          @Nullable String reason,
      @Mixin Place place,
      @Mixin Output output) {
    decide(lines, "decline", reason, place, Map.of(), output);
  }

  @Command(
      name = "hold",
      mixinStandardHelpOptions = true,
      description = "Waits with lines until a day; their clock stands still.")
  void hold(
      @Parameters(arity = "1..*", paramLabel = "LINE") List<Long> lines,
      @Option(names = "--until", required = true, paramLabel = "DAY", description = "The last day")
          String until,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Place place,
      @Mixin Output output) {
    decide(lines, "hold", reason, place, Map.of("until", until), output);
  }

  @Command(
      name = "go-on",
      mixinStandardHelpOptions = true,
      description = "Goes on with lines that were held.")
  void goOn(
      @Parameters(arity = "1..*", paramLabel = "LINE") List<Long> lines,
      @Mixin Place place,
      @Mixin Output output) {
    decide(lines, "go-on", null, place, Map.of(), output);
  }

  @Command(
      name = "pass-on",
      mixinStandardHelpOptions = true,
      description = "Has somebody else decide in your place.")
  void passOn(
      @Parameters(arity = "1..*", paramLabel = "LINE") List<Long> lines,
      @Option(names = "--to", required = true, paramLabel = "WORKER", description = "To whom")
          String to,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Place place,
      @Mixin Output output) {
    decide(lines, "pass-on", reason, place, Map.of("to", to), output);
  }

  @Command(
      name = "ask-back",
      mixinStandardHelpOptions = true,
      description = "Asks whoever asked something; the clock goes on.")
  void askBack(
      @Parameters(paramLabel = "LINE") long line,
      @Parameters(paramLabel = "QUESTION") String question,
      @Mixin Output output) {
    decide(List.of(line), "ask-back", question, new Place(), Map.of(), output);
  }

  private void decide(
      List<Long> lines,
      String decision,
      @Nullable String reason,
      Place place,
      Map<String, Object> more,
      Output output) {
    var said = new HashMap<String, Object>(more);
    said.put("decision", decision);
    said.put("reason", reason == null ? "" : reason);
    said.put("inPlaceOf", place.worker == null ? "" : place.worker);
    if (lines.size() == 1) {
      var one = client.post("/api/v1/approvals/" + lines.getFirst(), said);
      output.one(one, List.of("Line %s is %s.".formatted(lines.getFirst(), state(one))));
      return;
    }
    var all = client.post("/api/v1/approvals", Client.object("lines", lines, "decision", said));
    output.list(
        all,
        all,
        List.of(
            Column.of("LINE", "line"),
            Column.of("STATE", "state"),
            Column.of("COULD NOT BE DECIDED", "problem")),
        "");
    for (var each : all) {
      if (!each.path("problem").asString().isEmpty()) {
        throw new Client.Failed("Some of them could not be decided.");
      }
    }
  }

  private static String state(JsonNode decided) {
    return decided.path("state").asString();
  }
}
