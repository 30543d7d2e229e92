package glenmoor.cli.campaigns;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor reviews}. */
@Command(name = "reviews", description = "What you have to judge in rounds of campaigns.")
public final class ReviewsCommand extends Group {
  private static final String PATH = "/api/v1/reviews";

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists what is yours to judge, what is due first coming first.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var zone = zone();
    var page = paging.of(client, PATH);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("REVIEW", "id"),
            Column.of("NAME", "name"),
            Column.of("ABOUT", "about"),
            new Column("UNDECIDED", row -> row.path("mix").path("undecided").asString()),
            new Column("OF", row -> row.path("mix").path("items").asString()),
            new Column("OVER ON", row -> Output.moment(row.path("dueAt"), zone)),
            Column.of("SIGNED OFF BY", "signedOffBy")),
        "Nothing is yours to judge.");
  }

  @Command(
      name = "items",
      mixinStandardHelpOptions = true,
      description = "Lists the items of a review.")
  void items(
      @Parameters(paramLabel = "REVIEW") long id,
      @Mixin ItemOptions options,
      @Mixin Paging paging,
      @Mixin Output output) {
    options.list(PATH + "/" + id + "/items", client, paging, output, zone());
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows one item, with what speaks for and against it.")
  void show(@Parameters(paramLabel = "ITEM") long id, @Mixin Output output) {
    var opened = client.get("/api/v1/items/" + id);
    client.post("/api/v1/items/" + id + "/open", Map.of());
    var zone = zone();
    var item = opened.path("item");
    var lines = new ArrayList<String>();
    lines.add(
        "%s of %s (%s)%s"
            .formatted(
                item.path("name").asString(),
                item.path("person").asString(),
                item.path("worker").asString(),
                item.path("applicationName").asString("").isEmpty()
                    ? ""
                    : " in " + item.path("applicationName").asString()));
    lines.add("  " + item.path("why").asString("nothing explains it"));
    lines.add(
        "  since %s, last used %s"
            .formatted(
                Output.moment(item.path("since"), zone),
                item.path("lastUsed").isNull()
                    ? "nobody knows when"
                    : Output.moment(item.path("lastUsed"), zone)));
    lines.add("  suggested: " + item.path("suggestion").asString());
    item.path("reasons").forEach(each -> lines.add("    " + each.asString()));
    opened
        .path("remarks")
        .forEach(each ->
            lines.add(
                "  %s %s: %s %s"
                    .formatted(
                        Output.moment(each.path("at"), zone),
                        each.path("byLogin").asString(),
                        each.path("what").asString(),
                        each.path("text").asString())));
    output.one(opened, lines);
  }

  @Command(
      name = "decide",
      mixinStandardHelpOptions = true,
      description = {
        "Keeps or revokes items.",
        "Of several at once, what is privileged, idle or in conflict is kept only after it was shown."
      })
  void decide(
      @Parameters(paramLabel = "REVIEW") long id,
      @Parameters(paramLabel = "keep|revoke") String judgement,
      @Parameters(arity = "0..*", paramLabel = "ITEM", index = "2..*") @Nullable List<String> items,
      @Option(names = "--application", description = "All undecided ones of an application")
          @Nullable String application,
      @Option(names = "--suggestion", description = "All undecided ones with this suggestion")
          @Nullable String suggestion,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Output output) {
    var body = new LinkedHashMap<String, Object>();
    body.put("judgement", judgement);
    if (reason != null) {
      body.put("reason", reason);
    }
    if (items != null && !items.isEmpty()) {
      body.put("items", items);
    } else if (application != null || suggestion != null) {
      var filter = new LinkedHashMap<String, Object>();
      if (application != null) {
        filter.put("application", application);
      }
      if (suggestion != null) {
        filter.put("suggestion", suggestion);
      }
      body.put("filter", filter);
    } else {
      throw wrong("Name items, or say which: --application or --suggestion.");
    }
    var judged = client.post(PATH + "/" + id + "/decisions", body);
    output.one(judged, said(judged));
  }

  private static List<String> said(JsonNode judged) {
    var lines = new ArrayList<String>();
    lines.add(Output.count(judged.path("decided").size(), "item", "items") + " decided.");
    judged
        .path("left")
        .properties()
        .forEach(
            each -> lines.add("%,d left: %s".formatted(each.getValue().asInt(), each.getKey())));
    return lines;
  }

  @Command(
      name = "undo",
      mixinStandardHelpOptions = true,
      description = "Takes decisions back that were not signed off.")
  void undo(
      @Parameters(paramLabel = "REVIEW") long id,
      @Parameters(arity = "1..*", paramLabel = "ITEM") List<String> items,
      @Mixin Output output) {
    var undone = client.post(PATH + "/" + id + "/undo", Map.of("items", items));
    output.one(
        undone,
        List.of(
            Output.count(undone.path("number").asLong(), "item is", "items are") + " open again."));
  }

  @Command(
      name = "pass-on",
      mixinStandardHelpOptions = true,
      description = "Has somebody else judge items.")
  void passOn(
      @Parameters(paramLabel = "REVIEW") long id,
      @Parameters(arity = "1..*", paramLabel = "ITEM") List<String> items,
      @Option(names = "--to", paramLabel = "WORKER", required = true, description = "Who judges")
          String worker,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    var passed =
        client.post(
            PATH + "/" + id + "/pass-on",
            Map.of("items", items, "worker", worker, "reason", reason));
    output.one(
        passed,
        List.of(
            Output.count(passed.path("number").asLong(), "item goes", "items go")
                + " to "
                + worker
                + "."));
  }

  @Command(
      name = "sign-off",
      mixinStandardHelpOptions = true,
      description = {
        "Says that you are done: what is revoked goes.",
        "With --forecast it only says what would go."
      })
  void signOff(
      @Parameters(paramLabel = "REVIEW") long id,
      @Option(names = "--forecast", description = "Say what would go, and sign nothing off")
          boolean forecast,
      @Mixin Output output) {
    if (forecast) {
      var would = client.get(PATH + "/" + id + "/forecast");
      var lines = new ArrayList<String>();
      lines.add(
          "%s of %s would go."
              .formatted(
                  Output.count(would.path("items").asLong(), "item", "items"),
                  Output.count(would.path("people").asLong(), "person", "people")));
      goes(would.path("goes"), "goes", lines);
      goes(would.path("ends"), "ends as a whole", lines);
      goes(would.path("stays"), "stays without it", lines);
      output.one(would, lines);
      return;
    }
    var done = client.post(PATH + "/" + id + "/sign-off", Map.of());
    output.one(
        done,
        List.of(
            "%,d kept, %,d revoked%s."
                .formatted(
                    done.path("kept").asInt(),
                    done.path("revoked").asInt(),
                    done.path("second").asBoolean()
                        ? "; somebody looks at it a second time first"
                        : done.path("held").asString("").isEmpty()
                            ? ""
                            : "; it takes something from many, so held change %s waits for somebody else to release it"
                                .formatted(done.path("held").asString()))));
  }

  private static void goes(JsonNode all, String what, List<String> lines) {
    all.forEach(each ->
        lines.add(
            "  %s %s (%,d)"
                .formatted(each.path("name").asString(), what, each.path("people").asInt())));
  }
}
