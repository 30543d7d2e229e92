package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor packages}. */
@Command(name = "packages", description = "Packages, what they give, and who has them.")
public final class PackagesCommand extends Group {
  private static final String PATH = "/api/v1/packages";

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists the packages of the portfolios you look after.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, PATH);
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("PACKAGE", "rolePackage/key"),
            Column.of("NAME", "rolePackage/name"),
            Column.of("PORTFOLIO", "portfolio"),
            Column.of("HOLDERS", "rolePackage/holders"),
            Column.of("RETIRED", "rolePackage/retired"),
            Column.of("PURPOSE", "rolePackage/purpose")),
        "There is none that you look after.");
  }

  private JsonNode one(String key) {
    return client.get(PATH + "/" + Client.encoded(key));
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows a package: what it gives, to how many, and on which terms.")
  void show(@Parameters(paramLabel = "PACKAGE") String key, @Mixin Output output) {
    var found = one(key);
    var each = found.path("rolePackage");
    var said = new ArrayList<String>();
    said.add("%s — %s".formatted(each.path("name").asString(), each.path("purpose").asString()));
    said.add(
        "  gives "
            + each.path("gives")
                .valueStream()
                .map(one -> one.path("name").asString())
                .collect(Collectors.joining(", ")));
    said.add("  held by " + Output.count(each.path("holders").asLong(), "person", "people"));
    if (!each.path("retired").asString().isEmpty()) {
      said.add("  retired: " + each.path("retired").asString());
    }
    for (var offer : each.path("offers")) {
      said.add(
          "  offer %s: %s, %s%s%s%s"
              .formatted(
                  offer.path("key").asString(),
                  offer.path("route").asString(),
                  offer.path("term").asString(),
                  offer.path("direct").asBoolean() ? ", given directly too" : "",
                  offer.path("open").asBoolean() ? "" : ", closed",
                  PortfoliosCommand.reviewed(offer)));
    }
    output.one(found, said);
  }

  @Command(
      name = "holders",
      mixinStandardHelpOptions = true,
      description = "Lists who has a package, or will, and how it came to them.")
  void holders(
      @Parameters(paramLabel = "PACKAGE") String rolePackage,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var key = one(rolePackage).path("portfolio").asString();
    if (key.isEmpty()) {
      throw new Client.Failed(
          "The package %s is in no portfolio, and is given by rules only.".formatted(rolePackage));
    }
    var page =
        paging.of(
            client,
            "/api/v1/portfolios/%s/packages/%s/holders"
                .formatted(Client.encoded(key), Client.encoded(rolePackage)));
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("GRANT", "grant"),
            Column.of("WORKER", "worker"),
            Column.of("NAME", "name"),
            Column.of("BASIS", "basis"),
            Column.of("BY", "by"),
            new Column("FROM", row -> Output.moment(row.path("from"), zone)),
            new Column("TO", row -> Output.moment(row.path("to"), zone))),
        "Nobody has it.");
  }
}
