package glenmoor.cli.reconcile;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor reconciles}. */
@Command(
    name = "reconciles",
    description = "Reconciles: comparing an application with what is expected of it.")
public final class ReconcilesCommand extends Group {

  @Command(
      name = "run",
      mixinStandardHelpOptions = true,
      description = {
        "Reads all accounts of an application and finds what differs.",
        "What is done about it by itself is what its definition says; without one nothing is."
      })
  void run(@Parameters(paramLabel = "APPLICATION") String key, @Mixin Output output) {
    output.noCsv();
    var accepted = client.post("/api/v1/applications/" + Client.encoded(key) + "/reconcile", null);
    var result = client.await(accepted, output);
    var lines = new ArrayList<String>();
    lines.add(
        "%s and %s read; %s open."
            .formatted(
                Output.count(result.path("accounts").asLong(), "account", "accounts"),
                Output.count(result.path("memberships").asLong(), "right", "rights"),
                Output.count(result.path("drifts").asLong(), "difference is", "differences are")));
    said(lines, result.path("repaired").asLong(), "repaired at once, as the definition says");
    said(lines, result.path("adopted").asLong(), "adopted at once, as the definition says");
    said(lines, result.path("passedOver").asLong(), "passed over: something is under way for them");
    var held = result.path("held").asString("");
    if (!held.isEmpty()) {
      lines.add(
          "A brake holds the repairs until somebody else releases them: glenmoor held show "
              + held);
    }
    if (result.path("drifts").asLong() > 0) {
      lines.add("See them with: glenmoor drift list --application " + key);
    }
    output.one(result, lines);
  }

  private static void said(List<String> lines, long count, String what) {
    if (count > 0) {
      lines.add("%,d %s.".formatted(count, what));
    }
  }

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists reconciles, newest first.")
  void list(
      @Option(names = "--application", description = "Only of this application")
          @Nullable String application,
      @Mixin Paging paging,
      @Mixin Output output) {
    var page = paging.of(client, "/api/v1/reconciles", "application", application);
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("RECONCILE", "id"),
            Column.of("APPLICATION", "application"),
            Column.of("STATE", "state"),
            new Column("BEGAN", row -> Output.moment(row.path("startedAt"), zone)),
            Column.of("ASKED BY", "askedBy"),
            Column.of("ACCOUNTS", "accounts"),
            Column.of("RIGHTS", "memberships"),
            Column.of("DIFFER", "drifts"),
            Column.of("SENTENCE", "sentence")),
        "Nothing was reconciled yet. Begin with: glenmoor reconciles run APPLICATION");
  }

  @Command(
      name = "unknown-rights",
      mixinStandardHelpOptions = true,
      description = "Lists rights that an application has and no definition names.")
  void unknownRights(@Parameters(paramLabel = "APPLICATION") String key, @Mixin Output output) {
    var page = client.get("/api/v1/applications/" + Client.encoded(key) + "/unknown-rights");
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("KIND", "kind"),
            Column.of("TECHNICAL NAME", "technicalName"),
            Column.of("HELD BY", "holders")),
        "No right is there that no definition names, as far as the last reconcile saw.");
  }
}
