package glenmoor.cli.campaigns;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor campaigns}. */
@Command(
    name = "campaigns",
    description = "Campaigns: looking through who has what, in rounds that end.")
public final class CampaignsCommand extends Group {
  private static final String CAMPAIGNS = "/api/v1/campaigns";
  private static final String ROUNDS = "/api/v1/rounds";

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists campaigns as they are defined, with the round that goes on.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var zone = zone();
    var page = paging.of(client, CAMPAIGNS);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("CAMPAIGN", "key"),
            Column.of("NAME", "name"),
            Column.of("REVIEWERS", "reviewers"),
            new Column("DAYS", row -> row.path("days").asString()),
            new Column("ROUND", row -> row.path("open").path("id").asString("")),
            new Column("STATE", row -> row.path("open").path("state").asString("")),
            new Column("NEXT", row -> Output.moment(row.path("next"), zone))),
        "No campaign is defined that you may see.");
  }

  @Command(
      name = "rehearse",
      mixinStandardHelpOptions = true,
      description = "Says what a round would ask of whom; nothing of it is kept.")
  void rehearse(@Parameters(paramLabel = "CAMPAIGN") String key, @Mixin Output output) {
    output.noCsv();
    var accepted = client.post(CAMPAIGNS + "/" + Client.encoded(key) + "/rehearsals", Map.of());
    var result = client.await(accepted, output);
    var lines = new ArrayList<String>();
    lines.add(
        "%s of %s, for %s; %,d are worth a close look."
            .formatted(
                Output.count(result.path("items").asLong(), "item", "items"),
                Output.count(result.path("people").asLong(), "person", "people"),
                Output.count(result.path("reviewers").asLong(), "reviewer", "reviewers"),
                result.path("careful").asInt()));
    result
        .path("loads")
        .forEach(load ->
            lines.add(
                "  %,6d  %s"
                    .formatted(load.path("items").asInt(), load.path("reviewer").asString())));
    result.path("warnings").forEach(each -> lines.add("! " + each.asString()));
    output.one(result, lines);
  }

  @Command(
      name = "launch",
      mixinStandardHelpOptions = true,
      description = "Launches a round: fixes its items as they are now, and asks its reviewers.")
  void launch(@Parameters(paramLabel = "CAMPAIGN") String key, @Mixin Output output) {
    output.noCsv();
    var accepted = client.post(CAMPAIGNS + "/" + Client.encoded(key) + "/rounds", Map.of());
    var result = client.await(accepted, output);
    output.one(
        result,
        List.of(
            "Round %s: %s of %s, for %s."
                .formatted(
                    result.path("round").asString(),
                    Output.count(result.path("items").asLong(), "item", "items"),
                    Output.count(result.path("people").asLong(), "person", "people"),
                    Output.count(result.path("reviewers").asLong(), "reviewer", "reviewers")),
            "See it with: glenmoor campaigns show " + result.path("round").asString()));
  }

  @Command(
      name = "rounds",
      mixinStandardHelpOptions = true,
      description = "Lists rounds, the newest first.")
  void rounds(
      @Option(names = "--campaign", description = "Of one campaign only") @Nullable String campaign,
      @Option(names = "--state", description = "launching, open, closing, closed or dropped")
          @Nullable String state,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var page = paging.of(client, ROUNDS, "campaign", campaign, "state", state);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ROUND", "id"),
            Column.of("NAME", "name"),
            Column.of("ABOUT", "about"),
            Column.of("STATE", "state"),
            Column.of("ITEMS", "items"),
            new Column("AS OF", row -> Output.moment(row.path("asOf"), zone)),
            new Column("OVER ON", row -> Output.moment(row.path("dueAt"), zone)),
            Column.of("WHY", "endReason")),
        "There was none yet. Begin with: glenmoor campaigns launch CAMPAIGN");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a round: who is how far, and what is not confirmed.")
  void show(@Parameters(paramLabel = "ROUND") long id, @Mixin Output output) {
    var shown = client.get(ROUNDS + "/" + id);
    var zone = zone();
    var round = shown.path("round");
    var mix = shown.path("mix");
    var lines = new ArrayList<String>();
    lines.add(
        "%s%s: %s, as of %s, over on %s"
            .formatted(
                round.path("name").asString(),
                round.path("about").asString("").isEmpty()
                    ? ""
                    : " (" + round.path("about").asString() + ")",
                round.path("state").asString(),
                Output.moment(round.path("asOf"), zone),
                Output.moment(round.path("dueAt"), zone)));
    lines.add(
        "  %s: %,d undecided, %,d kept, %,d revoked, %,d ended by themselves; %,d not confirmed yet"
            .formatted(
                Output.count(mix.path("items").asLong(), "item", "items"),
                mix.path("undecided").asInt(),
                mix.path("kept").asInt(),
                mix.path("revoked").asInt(),
                mix.path("ended").asInt(),
                mix.path("following").asInt()));
    shown
        .path("reviewers")
        .forEach(each ->
            lines.add(
                "  review %s  %s: %,d of %,d undecided%s%s%s"
                    .formatted(
                        each.path("review").asString(),
                        each.path("reviewer").asString(),
                        each.path("mix").path("undecided").asInt(),
                        each.path("mix").path("items").asInt(),
                        each.path("signedOffAt").isNull()
                            ? ""
                            : ", signed off by " + each.path("signedOffBy").asString(),
                        each.path("late").asBoolean() ? ", late" : "",
                        each.path("fastest").asInt() > 0
                            ? ", %,d kept in one minute".formatted(each.path("fastest").asInt())
                            : "")));
    shown
        .path("following")
        .forEach(each ->
            lines.add(
                "  item %s  %s of %s is %s%s"
                    .formatted(
                        each.path("id").asString(),
                        each.path("name").asString(),
                        each.path("person").asString(),
                        each.path("state").asString(),
                        each.path("note").asString("").isEmpty()
                            ? ""
                            : ": " + each.path("note").asString())));
    var compared = shown.path("compared");
    if (!compared.isNull()) {
      lines.add(
          "  beside the round before: %,d new, %,d gone, %,d stayed; of %,d revoked then, %,d are back"
              .formatted(
                  compared.path("added").asInt(),
                  compared.path("gone").asInt(),
                  compared.path("stayed").asInt(),
                  compared.path("revokedThen").asInt(),
                  compared.path("back").asInt()));
    }
    output.one(shown, lines);
  }

  @Command(
      name = "items",
      mixinStandardHelpOptions = true,
      description = "Lists the items of a round.")
  void items(
      @Parameters(paramLabel = "ROUND") long id,
      @Mixin ItemOptions options,
      @Mixin Paging paging,
      @Mixin Output output) {
    options.list(ROUNDS + "/" + id + "/items", client, paging, output, zone());
  }

  @Command(
      name = "remind",
      mixinStandardHelpOptions = true,
      description = "Writes to those who are not done.")
  void remind(@Parameters(paramLabel = "ROUND") long id, @Mixin Output output) {
    var told = client.post(ROUNDS + "/" + id + "/remind", Map.of());
    output.one(
        told,
        List.of(Output.count(told.path("number").asLong(), "letter", "letters") + " written."));
  }

  @Command(
      name = "extend",
      mixinStandardHelpOptions = true,
      description = "Gives reviewers until the end of a later day.")
  void extend(
      @Parameters(paramLabel = "ROUND") long id,
      @Option(names = "--until", paramLabel = "DAY", required = true, description = "The last day")
          String until,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    client.post(ROUNDS + "/" + id + "/extend", Map.of("until", until, "reason", reason));
    output.line("It goes on until " + until + ".");
  }

  @Command(
      name = "close",
      mixinStandardHelpOptions = true,
      description = "Ends the judging now, as the closing rule says.")
  void close(
      @Parameters(paramLabel = "ROUND") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    var closed = client.post(ROUNDS + "/" + id + "/close", Map.of("reason", reason));
    var held = closed.path("held").asString("");
    output.one(
        closed,
        List.of(
            held.isEmpty()
                ? "Nothing is judged any more; what was revoked is followed to its end."
                : "It takes something from many, so held change %s waits for somebody else to release it."
                    .formatted(held)));
  }

  @Command(
      name = "drop",
      mixinStandardHelpOptions = true,
      description = "Gives a round up before anybody has signed off.")
  void drop(
      @Parameters(paramLabel = "ROUND") long id,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    client.post(ROUNDS + "/" + id + "/drop", Map.of("reason", reason));
    output.line("It is dropped; nothing of it counts.");
  }

  @Command(
      name = "reassign",
      mixinStandardHelpOptions = true,
      description = "Gives what a reviewer has not signed off to somebody else.")
  void reassign(
      @Parameters(paramLabel = "REVIEW") long id,
      @Option(names = "--to", paramLabel = "WORKER", required = true, description = "Who judges")
          String worker,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    var moved =
        client.post(
            "/api/v1/reviews/" + id + "/reassign", Map.of("worker", worker, "reason", reason));
    output.one(
        moved,
        List.of(
            Output.count(moved.path("number").asLong(), "item goes", "items go")
                + " to "
                + worker
                + "."));
  }

  @Command(
      name = "hand",
      mixinStandardHelpOptions = true,
      description = "Says who sees to it that something goes which is not confirmed.")
  void hand(
      @Parameters(paramLabel = "ITEM") long id,
      @Option(
              names = "--to",
              paramLabel = "WORKER",
              required = true,
              description = "Who sees to it")
          String worker,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    client.post("/api/v1/items/" + id + "/hand", Map.of("worker", worker, "reason", reason));
    output.line("It is theirs to see to.");
  }

  @Command(
      name = "report",
      mixinStandardHelpOptions = true,
      description = {
        "Writes the evidence of a round to a file, for auditors.",
        "As PDF, CSV or XLSX, by the ending of its name."
      })
  void report(
      @Parameters(paramLabel = "ROUND") long id,
      @Option(names = "--to", paramLabel = "FILE", required = true, description = "Where to")
          Path file,
      @Mixin Output output) {
    var name = file.toString();
    var kind = name.substring(name.lastIndexOf('.') + 1).toLowerCase(java.util.Locale.ROOT);
    if (!List.of("pdf", "csv", "xlsx").contains(kind)) {
      throw wrong("Name a file that ends with .pdf, .csv or .xlsx.");
    }
    client.save(ROUNDS + "/" + id + "/report." + kind, file);
    output.line("Written to " + file + ".");
  }
}
