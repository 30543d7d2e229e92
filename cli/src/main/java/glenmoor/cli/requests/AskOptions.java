package glenmoor.cli.requests;

import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** What is said of something that is asked for, or given. */
final class AskOptions {
  @Option(
      names = "--answer",
      paramLabel = "KEY=VALUE",
      description = "Answers a question of the offer; may be repeated")
  private @Nullable Map<String, String> answers;

  @Option(names = "--from", paramLabel = "DAY", description = "Its first day. Default: at once")
  private @Nullable String from;

  @Option(
      names = "--until",
      paramLabel = "DAY",
      description = "Its last day. Default: as long as the offer says")
  private @Nullable String until;

  /** Adds it to what is sent. */
  void to(Map<String, Object> line) {
    line.put("answers", answers == null ? Map.of() : answers);
    if (from != null) {
      line.put("startDay", from);
    }
    if (until != null) {
      line.put("lastDay", until);
    }
  }
}
