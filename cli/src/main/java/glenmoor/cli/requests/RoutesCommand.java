package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import java.util.ArrayList;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor routes}. */
@Command(name = "routes", description = "Who has to agree, and when what happens.")
public final class RoutesCommand extends Group {
  @Command(
      name = "rehearse",
      mixinStandardHelpOptions = true,
      description = "Says who would be asked for somebody, and on which day what would happen.",
      footer = {
        "",
        "Example: glenmoor routes rehearse manager-then-stewards --for W-01012 --offer ticket-desk"
      })
  void rehearse(
      @Parameters(paramLabel = "ROUTE") String route,
      @Option(names = "--for", required = true, paramLabel = "WORKER", description = "For whom")
          String worker,
      @Option(names = "--offer", description = "Whose package it is about") @Nullable String offer,
      @Mixin Output output) {
    var rehearsed =
        client.get(
            "/api/v1/routes/%s/rehearsal%s"
                .formatted(Client.encoded(route), Client.query("worker", worker, "offer", offer)));
    var said = new ArrayList<String>();
    said.add(
        "%s, for %s"
            .formatted(
                rehearsed.path("name").asString(),
                rehearsed.path("subject").path("name").asString()));
    var number = 0;
    for (var stage : rehearsed.path("stages")) {
      number++;
      said.add(
          "stage %d%s, %s: %s%s"
              .formatted(
                  number,
                  stage.path("beside").asBoolean() ? " (beside the one before)" : "",
                  stage
                      .path("ask")
                      .valueStream()
                      .map(JsonNode::asString)
                      .collect(Collectors.joining(" or ")),
                  names(stage.path("who")),
                  stage.path("note").asString().isEmpty()
                      ? ""
                      : " — " + stage.path("note").asString()));
      stage.path("nudgeDays").forEach(day -> said.add("  day %d: reminded".formatted(day.asInt())));
      if (!stage.path("standbyDays").isNull()) {
        said.add(
            "  day %d: %s asked as well"
                .formatted(stage.path("standbyDays").asInt(), names(stage.path("standby"))));
      }
      said.add(
          "  day %d: %s"
              .formatted(
                  stage.path("lapseDays").asInt(),
                  stage.path("onTo").isEmpty()
                      ? "over, if nobody has decided"
                      : "goes on to " + names(stage.path("onTo"))));
    }
    output.one(rehearsed, said);
  }

  private static String names(JsonNode who) {
    return who.isEmpty()
        ? "nobody"
        : who.valueStream()
            .map(each -> each.path("name").asString())
            .collect(Collectors.joining(" or "));
  }
}
