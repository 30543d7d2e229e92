package glenmoor.cli.agenda;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
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
      @Parameters(arity = "0..1", paramLabel = "HOW-FAR", description = "Such as 7d, 12h or 30m")
          @Nullable String far,
      @Option(
              names = "--to",
              paramLabel = "MOMENT",
              description = {
                "Such as 2027-03-14T06:00:00Z.",
                "The same moment again finishes a move that was interrupted."
              })
          @Nullable Instant to,
      @Mixin Output output) {
    output.noCsv();
    if (far == null == (to == null)) {
      throw wrong("Say how far, or --to which moment.");
    }
    move(far == null ? Client.object("to", String.valueOf(to)) : by(far), output);
  }

  private Map<String, Object> by(String far) {
    var span = SPAN.matcher(far);
    if (!span.matches()) {
      throw wrong("“%s” is no span of time; say for example 7d, 12h or 30m.".formatted(far));
    }
    var number = Long.parseLong(span.group(1));
    var by =
        switch (span.group(2)) {
          case "d" -> Duration.ofDays(number);
          case "h" -> Duration.ofHours(number);
          default -> Duration.ofMinutes(number);
        };
    return Client.object("by", by.toString());
  }

  private void move(Map<String, Object> how, Output output) {
    var accepted = client.post("/api/v1/clock/advance", how);
    var result = client.await(accepted, output);
    var zone = zone();
    output.one(
        result,
        List.of(
            "From %s to %s; stopped %s for what was due."
                .formatted(
                    Output.moment(result.path("from"), zone),
                    Output.moment(result.path("to"), zone),
                    Output.count(result.path("steps").asLong(), "time", "times"))));
  }
}
