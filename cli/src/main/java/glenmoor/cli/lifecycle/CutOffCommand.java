package glenmoor.cli.lifecycle;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.Paging;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor cut-off}. */
@Command(
    name = "cut-off",
    description = "Somebody who must go this minute, whatever their source says.")
public final class CutOffCommand extends Group {
  private static final Set<String> ON_THEIR_WAY = Set.of("waiting", "sent");
  private static final long LOOK_MILLIS = 200;

  private static String path(String worker) {
    return "/api/v1/cut-offs/" + Client.encoded(worker);
  }

  @Command(
      name = "now",
      mixinStandardHelpOptions = true,
      description = {
        "Cuts somebody off: every account is shut, and they lose Glenmoor itself.",
        "With --forecast it only says what would go. Otherwise it waits, and tells how far each application is."
      },
      footer = {
        "",
        "Example: glenmoor cut-off now W-01056 --reason 'asked for by the harbour master'"
      })
  void now(
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Option(names = "--forecast", description = "Say what would go, and do nothing")
          boolean forecast,
      @Mixin Wait wait,
      @Mixin Output output) {
    if (forecast) {
      var shown = client.get(path(worker));
      said(shown, output, shown.path("cutOff").asBoolean() ? "Already" : "Would be");
      return;
    }
    follow(client.post(path(worker), Map.of("reason", stated(reason))), wait, output);
  }

  @Command(
      name = "bring-back",
      mixinStandardHelpOptions = true,
      description = {
        "Brings back somebody who was cut off: they have again what their source and their grants give them.",
        "An account that was held is opened again; one that was deleted since is made anew."
      })
  void bringBack(
      @Parameters(paramLabel = "WORKER") String worker,
      @Option(names = "--reason", description = "Why; it is kept") @Nullable String reason,
      @Mixin Wait wait,
      @Mixin Output output) {
    var path = path(worker) + "/bring-back";
    follow(client.post(path, Map.of("reason", stated(reason))), wait, output);
  }

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows how far each application is with somebody who was cut off.")
  void show(@Parameters(paramLabel = "WORKER") String worker, @Mixin Output output) {
    said(client.get(path(worker)), output, "");
  }

  @Command(
      name = "list",
      mixinStandardHelpOptions = true,
      description = "Lists those who are cut off and whose source does not say so yet.")
  void list(@Mixin Paging paging, @Mixin Output output) {
    var page = paging.of(client, "/api/v1/cut-offs");
    var zone = zone();
    output.list(
        page,
        page.path("items"),
        List.of(
            Column.of("WORKER", "worker"),
            Column.of("NAME", "name"),
            new Column("CUT OFF", row -> Output.moment(row.path("at"), zone)),
            Column.of("BY", "by"),
            Column.of("REASON", "reason")),
        "Nobody is cut off.");
  }

  /** For how long to wait. */
  static final class Wait {
    @Option(
        names = "--wait",
        defaultValue = "60",
        paramLabel = "SECONDS",
        description = "For how long to wait for the applications. Default: 60; 0 does not wait")
    int seconds;
  }

  private String stated(@Nullable String reason) {
    if (reason == null || reason.isBlank()) {
      throw wrong("Say why with --reason: it is kept with the decision.");
    }
    return reason;
  }

  private void follow(JsonNode first, Wait wait, Output output) {
    output.noCsv();
    var worker = first.path("worker").asString();
    var until = System.nanoTime() + Duration.ofSeconds(wait.seconds).toNanos();
    var told = new HashMap<String, String>();
    var shown = first;
    tell(shown, told, output);
    while (onTheirWay(shown) && System.nanoTime() < until && slept()) {
      shown = client.get(path(worker));
      tell(shown, told, output);
    }
    if (!output.isTable()) {
      output.json(shown);
      return;
    }
    output.line("");
    output.line(sum(shown));
  }

  private static boolean onTheirWay(JsonNode shown) {
    return applications(shown)
        .anyMatch(each -> ON_THEIR_WAY.contains(each.path("progress").asString()));
  }

  private static Stream<JsonNode> applications(JsonNode shown) {
    return StreamSupport.stream(shown.path("applications").spliterator(), false);
  }

  private static boolean slept() {
    try {
      Thread.sleep(LOOK_MILLIS);
      return true;
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  /** A line for each application that came to something else. */
  private static void tell(JsonNode shown, Map<String, String> told, Output output) {
    if (!output.isTable()) {
      return;
    }
    if (told.isEmpty()) {
      output.line(head(shown));
    }
    applications(shown)
        .forEach(each -> {
          var line = line(each);
          if (!line.equals(told.put(each.path("application").asString(), line))) {
            output.line("  " + line);
          }
        });
  }

  private static String line(JsonNode one) {
    var reason = one.path("reason").asString("");
    return "%-20s %-30s %-10s %s%s"
        .formatted(
            one.path("name").asString(),
            one.path("account").asString(),
            one.path("progress").asString(),
            one.path("what").asString(),
            reason.isEmpty() ? "" : ": " + reason);
  }

  private static String head(JsonNode shown) {
    return "%s (%s), %s: %s"
        .formatted(
            shown.path("name").asString(),
            shown.path("worker").asString(),
            shown.path("subtitle").asString(),
            shown.path("cutOff").asBoolean()
                ? "cut off; their source says " + shown.path("sourceSays").asString()
                : shown.path("standing").asString());
  }

  private static String sum(JsonNode shown) {
    var counts =
        applications(shown)
            .collect(
                Collectors.groupingBy(
                    each -> each.path("progress").asString(), Collectors.counting()));
    return counts.isEmpty()
        ? "They have no account anywhere."
        : counts.entrySet().stream()
            .sorted(Map.Entry.comparingByKey())
            .map(each -> each.getValue() + " " + each.getKey())
            .collect(Collectors.joining(", ", "Applications: ", "."));
  }

  private static void said(JsonNode shown, Output output, String would) {
    output.noCsv();
    if (!output.isTable()) {
      output.json(shown);
      return;
    }
    output.line(head(shown));
    if (!would.isEmpty()) {
      output.line(would + " cut off in:");
    }
    applications(shown).forEach(each -> output.line("  " + line(each)));
    var signIns = shown.path("signIns");
    output.line(
        signIns.isEmpty()
            ? "They cannot sign in to Glenmoor."
            : "Signs in to Glenmoor as "
                + StreamSupport.stream(signIns.spliterator(), false)
                    .map(JsonNode::asString)
                    .collect(Collectors.joining(", "))
                + (would.equals("Would be") ? ", which ends too." : "."));
    output.line(sum(shown));
  }
}
