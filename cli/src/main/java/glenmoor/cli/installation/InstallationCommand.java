package glenmoor.cli.installation;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import java.util.ArrayList;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** {@code glenmoor installation}. */
@Command(
    name = "installation",
    description =
        "Shows whether this installation acts. A copy or a restored database is quiet: it plans and shows, and sends nothing until it is released.")
public final class InstallationCommand extends Group {
  private static final String PATH = "/api/v1/installation";

  @Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "Shows whether it is quiet, why, and what would be sent if it were released.")
  void show(@Mixin Output output) {
    output.noCsv();
    var zone = zone();
    var shown = client.get(PATH);
    var lines = new ArrayList<String>();
    if (shown.path("quiet").asBoolean()) {
      lines.add(
          "Quiet since %s: nothing is sent.".formatted(Output.moment(shown.path("since"), zone)));
      lines.add("Reason: " + shown.path("reason").asString());
    } else {
      lines.add("Active.");
    }
    lines.add(
        "Installation %s; this service was started as %s."
            .formatted(shown.path("identity").asString(), shown.path("here").asString()));
    for (var each : shown.path("operations")) {
      lines.add(
          "Waiting: %s in %s (%s), the first since %s."
              .formatted(
                  Output.count(each.path("operations").asLong(), "operation", "operations"),
                  each.path("application").asString(),
                  each.path("kind").asString(),
                  Output.moment(each.path("since"), zone)));
    }
    for (var each : shown.path("messages")) {
      lines.add(
          "Waiting: %s (%s), the first since %s."
              .formatted(
                  Output.count(each.path("messages").asLong(), "message", "messages"),
                  each.path("kind").asString(),
                  Output.moment(each.path("since"), zone)));
    }
    output.one(shown, lines);
  }

  @Command(
      name = "quiet",
      mixinStandardHelpOptions = true,
      description = "Stops everything that is sent to applications, channels and people.")
  void quiet(
      @Option(names = "--reason", required = true, description = "Reason (recorded)") String reason,
      @Mixin Output output) {
    client.post(PATH + "/quiet", Client.object("reason", reason));
    output.line("It is quiet: nothing is sent until you release it.");
  }

  @Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description =
          "Lets a quiet installation act. Run a reconcile and read what waits first: glenmoor installation show.")
  void release(
      @Option(names = "--reason", required = true, description = "Reason (recorded)") String reason,
      @Option(
              names = "--messages",
              required = true,
              paramLabel = "send|drop",
              description =
                  "What becomes of messages that wait. Those of a restored database were probably sent by the original")
          String messages,
      @Mixin Output output) {
    client.post(PATH + "/release", Client.object("reason", reason, "messages", messages));
    output.line("It is released, and acts.");
  }
}
