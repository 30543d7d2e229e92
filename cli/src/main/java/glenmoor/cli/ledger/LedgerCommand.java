package glenmoor.cli.ledger;

import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** {@code glenmoor ledger}. */
@Command(name = "ledger", description = "The record of everything that happened.")
public final class LedgerCommand extends Group {

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists entries, newest first.")
  void list(
      @Option(names = "--worker", description = "Only about this person") @Nullable String worker,
      @Option(
              names = "--subject",
              description = "Only about this, such as feed:12, or about people of this name")
          @Nullable String subject,
      @Option(names = "--by", description = "Only by this actor") @Nullable String by,
      @Option(names = "--what", description = "Only this happening, such as grant-began")
          @Nullable String what,
      @Mixin Paging paging,
      @Mixin Output output) {
    var about = worker == null ? subject : "person:" + worker;
    var page = paging.of(client, "/api/v1/ledger", "subject", about, "by", by, "what", what);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            new Column("AT", row -> Output.moment(row.path("at"), zone)),
            Column.of("BY", "actor"),
            Column.of("WHAT", "what"),
            Column.of("SUBJECT", "subject"),
            Column.of("NAME", "name"),
            Column.of("CAUSE", "cause"),
            new Column("AFTER", row -> row.path("entry").path("after").toString())),
        "No entry matches.");
  }
}
