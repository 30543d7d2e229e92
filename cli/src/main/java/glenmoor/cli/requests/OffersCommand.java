package glenmoor.cli.requests;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code glenmoor offers}. */
@Command(name = "offers", description = "What you can ask for.")
public final class OffersCommand extends Group {
  @Command(
      name = "find",
      mixinStandardHelpOptions = true,
      description = {
        "Finds what you can ask for by what it is for; without words, all of it.",
        "Typing errors are forgiven."
      },
      footer = {"", "Example: glenmoor offers find selling tickets --for W-01012"})
  void find(
      @Parameters(arity = "0..*", paramLabel = "WORDS") @Nullable List<String> words,
      @Option(names = "--for", paramLabel = "WORKER", description = "For whom. Default: yourself")
          @Nullable String worker,
      @Option(
              names = "--like",
              paramLabel = "WORKER",
              description = "Only what a colleague with the same manager has")
          @Nullable String like,
      @Mixin Output output) {
    var found =
        client.get(
            "/api/v1/offers"
                + Client.query(
                    "worker",
                    worker,
                    "like",
                    like,
                    "text",
                    words == null ? null : String.join(" ", words)));
    output.list(
        found,
        found,
        List.of(
            Column.of("OFFER", "key"),
            Column.of("NAME", "name"),
            Column.of("PURPOSE", "purpose"),
            new Column("DECIDED BY", OffersCommand::decides),
            Column.of("TERM", "term"),
            new Column("NOW", OffersCommand::now)),
        "Nothing that you can ask for fits.");
  }

  private static String decides(JsonNode offer) {
    return StreamSupport.stream(offer.path("decides").spliterator(), false)
        .map(stage ->
            StreamSupport.stream(stage.spliterator(), false)
                .map(JsonNode::asString)
                .collect(Collectors.joining(" or ")))
        .collect(Collectors.joining(", then "));
  }

  private static String now(JsonNode offer) {
    return offer.path("held").asBoolean()
        ? "had already"
        : offer.path("waits").asBoolean() ? "asked for" : "";
  }
}
