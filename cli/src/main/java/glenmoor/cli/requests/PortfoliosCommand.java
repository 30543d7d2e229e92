package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor portfolios}. */
@Command(name = "portfolios", description = "What packages are made of, and who looks after it.")
public final class PortfoliosCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the portfolios you may see.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, "/api/v1/portfolios");
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("PORTFOLIO", "key"),
            Column.of("NAME", "name"),
            Column.of("ENTITLEMENTS", "entitlements"),
            Column.of("PACKAGES", "packages"),
            new Column("STEWARDS", each -> joined(each.path("stewards"), PortfoliosCommand::name))),
        "There is none that you look after.");
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a portfolio with its packages and offers.")
  void show(@Parameters(paramLabel = "PORTFOLIO") String key, @Mixin Output output) {
    var portfolio = client.get("/api/v1/portfolios/" + Client.encoded(key));
    var said = new ArrayList<String>();
    said.add(
        "%s — stewards: %s; bundlers: %s"
            .formatted(
                portfolio.path("name").asString(),
                joined(portfolio.path("stewards"), PortfoliosCommand::name),
                joined(portfolio.path("bundlers"), PortfoliosCommand::name)));
    said.add("  in it: " + joined(portfolio.path("entitlements"), PortfoliosCommand::name));
    for (var each : portfolio.path("packages")) {
      said.add(
          "%s (%s), held by %d: %s"
              .formatted(
                  each.path("name").asString(),
                  each.path("key").asString(),
                  each.path("holders").asInt(),
                  joined(each.path("gives"), PortfoliosCommand::name)));
      for (var offer : each.path("offers")) {
        said.add(
            "  offer %s: %s, %s%s%s"
                .formatted(
                    offer.path("key").asString(),
                    offer.path("route").asString(),
                    offer.path("term").asString(),
                    offer.path("open").asBoolean() ? "" : ", closed",
                    reviewed(offer)));
      }
    }
    output.one(portfolio, said);
  }

  /** How what an offer gave is looked through, where it is. */
  static String reviewed(JsonNode offer) {
    var by = offer.path("reviewedBy").asString("");
    var next = offer.path("nextReview").asString("");
    return by.isEmpty()
        ? ""
        : ", reviewed by " + by + (next.isEmpty() ? "" : " from " + next.substring(0, 10));
  }

  private static String name(JsonNode each) {
    return each.path("name").asString();
  }

  private static String joined(JsonNode all, Function<JsonNode, String> word) {
    return all.isEmpty() ? "nobody" : all.valueStream().map(word).collect(Collectors.joining(", "));
  }
}
