package glenmoor.cli.partners;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code glenmoor partners}. */
@Command(
    name = "partners",
    description = "Partner organisations, and their people who ask for access by a link.")
public final class PartnersCommand extends Group {
  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists partner organisations, each with the link to send to its people.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, "/api/v1/partner-organisations");
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("ORGANISATION", "key"),
            Column.of("NAME", "name"),
            Column.of("UNTIL", "until"),
            Column.of("SPONSOR", "sponsor/name"),
            Column.of("UNCONFIRMED", "unconfirmed"),
            Column.of("LINK", "link")),
        "There is none.");
  }

  @Command(
      name = "people",
      mixinStandardHelpOptions = true,
      description =
          "Lists who asked by an organisation's link and confirmed their address, the last first.")
  void people(
      @Parameters(paramLabel = "ORGANISATION") String key,
      @Mixin Paging paging,
      @Mixin Output output) {
    var zone = zone();
    var page =
        paging.of(client, "/api/v1/partner-organisations/" + Client.encoded(key) + "/people");
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("WORKER", "worker"),
            Column.of("NAME", "name"),
            Column.of("MAIL", "mail"),
            Column.of("STATE", "state"),
            Column.of("REQUEST", "request"),
            Column.of("TERMS", "terms"),
            Column.of("VERSION", "termsVersion"),
            new Column("ACCEPTED", row -> Output.moment(row.path("acceptedAt"), zone))),
        "Nobody has.");
  }
}
