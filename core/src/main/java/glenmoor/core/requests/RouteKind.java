package glenmoor.core.requests;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.LetterKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** {@code route: line-manager}: who must agree before somebody gets what they asked for. */
@AutoService(DefinitionKind.class)
public final class RouteKind implements DefinitionKind<Route> {
  private static final int MOST_STAGES = 12;

  @Override
  public String word() {
    return "route";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact", "letter", "channel", "team");
  }

  /** Who has to agree changes nothing of what anybody has. */
  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  @Override
  public Optional<Route> read(String key, Reading reading, Defined known) {
    var stages = stages(reading, known);
    return Optional.of(
        new Route(
            key,
            reading.text("name", key),
            stages,
            LetterKind.named("asked-letter", reading, known),
            chat(reading, known),
            LetterKind.named("settled-letter", reading, known)));
  }

  private static List<StageRule> stages(Reading reading, Defined known) {
    var stages = new ArrayList<StageRule>();
    var items = reading.items("stages");
    for (var item : items) {
      if (item instanceof Tree.Fields fields) {
        stages.add(StageReading.stage(fields, reading, known));
      } else {
        reading.problem(item.place(), "A stage has fields, the first of them ask.");
      }
    }
    if (items.isEmpty() || items.size() > MOST_STAGES) {
      reading.problem(
          reading.place("stages"),
          "A route has from 1 to %d stages; this one has %d.".formatted(MOST_STAGES, items.size()));
    }
    if (!stages.isEmpty() && stages.getFirst().beside()) {
      reading.problem(
          reading.place("stages"), "The first stage has none before it that it could run beside.");
    }
    return List.copyOf(stages);
  }

  /**
   * The stage that a line gets besides where it would cause a conflict, and its route asks nobody
   * who answers for that.
   */
  public static StageRule conflictStage(Defined known) {
    return StageReading.kept(
        Map.of(
            "ask", "conflict-owners",
            "otherwise", "administrators",
            "where", "ask.conflicts > 0",
            "reason", "both"),
        known);
  }

  /** A stage as a line kept it, with what is defined now. */
  public static StageRule kept(Map<String, Object> said, Defined known) {
    return StageReading.kept(said, known);
  }

  private static String chat(Reading reading, Defined known) {
    var named = reading.text("asked-chat", "");
    var chats =
        known.all(ChannelKind.class).values().stream()
            .filter(each -> each.kind() == Channel.Kind.CHAT)
            .map(Channel::key)
            .toList();
    if (!named.isEmpty() && !chats.contains(named)) {
      reading.problem(
          reading.place("asked-chat"),
          "There is no channel of the kind chat “%s”; there are %s."
              .formatted(named, String.join(", ", chats)));
    }
    return named;
  }
}
