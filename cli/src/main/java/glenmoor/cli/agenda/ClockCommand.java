package glenmoor.cli.agenda;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import java.time.Duration;
import java.util.List;
import java.util.regex.Pattern;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** {@code glenmoor clock}. */
@Command(
    name = "clock",
    description = "What time it is for the service; in a demo it can be moved.")
public final class ClockCommand extends Group {
  private static final Pattern SPAN = Pattern.compile("(\\d{1,4})([dhm])");

  @Command(name = "show", mixinStandardHelpOptions = true, description = "Shows the time.")
  void show(@Mixin Output output) {
    var clock = client.get("/api/v1/clock");
    output.one(
        clock,
        List.of(
            "%s, %s%s"
                .formatted(
                    Output.moment(clock.path("now"), clock.path("zone").asString()),
                    clock.path("zone").asString(),
                    clock.path("movable").asBoolean() ? "; it can be moved" : "")));
  }

  @Command(
      name = "advance",
      mixinStandardHelpOptions = true,
      description =
          "Moves the clock forward; everything that falls due in between happens, in order.")
  void advance(
      @Parameters(paramLabel = "HOW-FAR", description = "Such as 7d, 12h or 30m") String far,
      @Mixin Output output) {
    var span = SPAN.matcher(far);
    if (!span.matches()) {
      throw new Client.Failed(
          "“%s” is no span of time; say for example 7d, 12h or 30m.".formatted(far));
    }
    var number = Long.parseLong(span.group(1));
    var by =
        switch (span.group(2)) {
          case "d" -> Duration.ofDays(number);
          case "h" -> Duration.ofHours(number);
          default -> Duration.ofMinutes(number);
        };
    var accepted = client.post("/api/v1/clock/advance", Client.object("by", by.toString()));
    var result = client.await(accepted, output);
    var zone = zone();
    output.one(
        result,
        List.of(
            "From %s to %s; stopped %s times for what was due."
                .formatted(
                    Output.moment(result.path("from"), zone),
                    Output.moment(result.path("to"), zone),
                    result.path("steps").asString())));
  }
}
