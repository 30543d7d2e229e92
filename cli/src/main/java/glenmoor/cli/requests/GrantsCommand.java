package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor grants}. */
@Command(name = "grants", description = "What people hold, and giving it back.")
public final class GrantsCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what somebody holds now or will, what ends first coming first.")
  void list(
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var held = paging.of(client, "/api/v1/grants", "worker", whose(worker));
    output.list(
        held,
        held.path("items"),
        List.of(
            Column.of("GRANT", "id"),
            Column.of("NAME", "name"),
            Column.of("BASIS", "basis"),
            new Column("FROM", row -> Output.moment(row.path("startsAt"), zone)),
            new Column("TO", row -> Output.moment(row.path("endsAt"), zone))),
        "Nothing.");
  }

  private String whose(@Nullable String worker) {
    if (worker != null) {
      return worker;
    }
    var own = client.get("/api/v1/session").path("worker").asString("");
    if (own.isEmpty()) {
      throw wrong("You are no person here who could hold something; say --of WORKER.");
    }
    return own;
  }

  @Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description =
          "Gives something back, or takes it: it ends at once, with all that came with it.")
  void end(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    client.post("/api/v1/grants/" + id + "/end", Client.object("reason", reason));
    output.line("It has ended.");
  }

  @Command(
      name = "past",
      mixinStandardHelpOptions = true,
      description =
          "Lists what somebody had until not long ago and has no more, the last to end first.")
  void past(
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var had = paging.of(client, "/api/v1/grants/past", "worker", whose(worker));
    output.list(
        had,
        had.path("items"),
        List.of(
            Column.of("GRANT", "id"),
            Column.of("NAME", "name"),
            Column.of("OFFER", "offer"),
            new Column("TO", row -> Output.moment(row.path("endsAt"), zone))),
        "Nothing.");
  }

  @Command(
      name = "give",
      mixinStandardHelpOptions = true,
      description = {
        "Gives somebody what an offer is for, without an ask, where the offer allows that.",
        "For those who look after its portfolio; nobody gives themselves anything."
      })
  void give(
      @Parameters(paramLabel = "OFFER") String offer,
      @Option(names = "--to", paramLabel = "WORKER", required = true, description = "To whom")
          String worker,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin AskOptions ask,
      @Option(names = "--preview", description = "Say what would come of it, and give nothing")
          boolean preview,
      @Mixin Output output) {
    var body = new HashMap<String, Object>();
    body.put("offer", offer);
    body.put("worker", worker);
    body.put("reason", reason);
    ask.to(body);
    var given = client.post("/api/v1/grants" + (preview ? "/preview" : ""), body);
    var zone = zone();
    output.one(
        given,
        List.of(
            "%s %s “%s” from %s to %s"
                .formatted(
                    given.path("subject").path("name").asString(),
                    preview ? "would have" : "has",
                    given.path("name").asString(),
                    Output.moment(given.path("startsAt"), zone),
                    given.path("endsAt").isNull()
                        ? "no end"
                        : Output.moment(given.path("endsAt"), zone))));
  }

  @Command(
      name = "extend",
      mixinStandardHelpOptions = true,
      description = "Asks for more time, on the terms of its offer.")
  void extend(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Option(names = "--until", paramLabel = "DAY", description = "The last day")
          @Nullable String until,
      @Option(names = "--reason", description = "What it is needed for") @Nullable String reason,
      @Mixin Output output) {
    about("extend", id, worker, until, reason, Map.of(), output);
  }

  @Command(
      name = "change",
      mixinStandardHelpOptions = true,
      description = "Asks for other answers to what its offer asks; it goes on until it would end.")
  void change(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(
              names = "--answer",
              paramLabel = "KEY=VALUE",
              required = true,
              description = "All answers, the new and those that stay; may be repeated")
          Map<String, String> answers,
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Option(names = "--reason", description = "What it is needed for") @Nullable String reason,
      @Mixin Output output) {
    about("change", id, worker, null, reason, answers, output);
  }

  @Command(
      name = "remove",
      mixinStandardHelpOptions = true,
      description = {
        "Asks that somebody has it no longer, by the route of its offer.",
        "What you may end yourself needs no asking: grants end."
      })
  void remove(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Option(names = "--until", paramLabel = "DAY", description = "The last day. Default: at once")
          @Nullable String until,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    about("remove", id, worker, until, reason, Map.of(), output);
  }

  @Command(
      name = "resume",
      mixinStandardHelpOptions = true,
      description = "Asks once more for what is over, with the same answers; grants past lists it.")
  void resume(
      @Parameters(paramLabel = "GRANT") long id,
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Option(names = "--until", paramLabel = "DAY", description = "The last day")
          @Nullable String until,
      @Option(names = "--reason", description = "What it is needed for") @Nullable String reason,
      @Mixin Output output) {
    about("resume", id, worker, until, reason, Map.of(), output);
  }

  private void about(
      String kind,
      long id,
      @Nullable String worker,
      @Nullable String until,
      @Nullable String reason,
      Map<String, String> answers,
      Output output) {
    var own = whose(worker);
    var path = kind.equals("resume") ? "/api/v1/grants/past" : "/api/v1/grants";
    var offer = "";
    JsonNode held = client.get(path + Client.query("worker", own, "limit", 500));
    for (var each : held.path("items")) {
      if (each.path("id").asString().equals(String.valueOf(id))) {
        offer = each.path("offer").asString();
      }
    }
    if (offer.isEmpty()) {
      throw new Client.Failed(
          "%s has no grant %d that came by an offer and could be asked to %s."
              .formatted(own, id, kind));
    }
    var line = new HashMap<String, Object>();
    line.put("offer", offer);
    line.put("worker", own);
    line.put("kind", kind);
    line.put("grant", id);
    line.put("answers", answers);
    line.put("reason", reason == null ? "" : reason);
    if (until != null) {
      line.put("lastDay", until);
    }
    var asked = client.post("/api/v1/requests", Client.object("lines", List.of(line)));
    output.one(asked, List.of("Asked for as request %s.".formatted(asked.path("id").asString())));
  }

  @Command(
      name = "revoked",
      mixinStandardHelpOptions = true,
      description =
          "Lists a person's revoked entitlements and packages. They stay revoked whatever would grant them, until somebody lifts the revocation or approves a new request.")
  void revoked(
      @Option(names = "--of", paramLabel = "WORKER", description = "Whose. Default: your own")
          @Nullable String worker,
      @Mixin Output output) {
    var zone = zone();
    var all = client.get("/api/v1/people/" + Client.encoded(whose(worker)) + "/revoked");
    output.list(
        all,
        all,
        List.of(
            Column.of("REVOKED", "id"),
            Column.of("NAME", "name"),
            Column.of("KIND", "kind"),
            Column.of("APPLICATION", "application"),
            new Column("DECIDED", row -> Output.moment(row.path("since"), zone)),
            new Column("FROM", row -> Output.moment(row.path("from"), zone)),
            new Column("UNTIL", row -> Output.moment(row.path("until"), zone)),
            Column.of("BY", "by"),
            Column.of("REASON", "reason")),
        "Nothing is revoked.");
  }

  @Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Lifts a revocation: what would grant it grants it again.")
  void release(
      @Parameters(paramLabel = "REVOKED") long id,
      @Option(names = "--reason", required = true, description = "Reason (recorded)") String reason,
      @Option(
              names = "--last-day",
              paramLabel = "DATE",
              description = "The last day on which it still holds. Default: lift it now")
          @Nullable LocalDate lastDay,
      @Mixin Output output) {
    var body = Client.object("reason", reason);
    if (lastDay != null) {
      body.put("lastDay", lastDay.toString());
    }
    client.post("/api/v1/revoked/" + id + "/release", body);
    output.line(
        lastDay == null
            ? "The revocation is lifted."
            : "The revocation ends after " + lastDay + ".");
  }
}
