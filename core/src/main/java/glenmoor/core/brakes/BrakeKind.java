package glenmoor.core.brakes;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.EnumMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** {@code brake: feeds}: other limits than the usual ones. */
@AutoService(DefinitionKind.class)
public final class BrakeKind implements DefinitionKind<Brakes> {
  private static final Pattern LIMIT = Pattern.compile("(\\d{1,9}) or (\\d{1,3}) ?%");
  private static final Map<String, Brakes> USUAL =
      Map.of(
          "feeds", Brakes.USUAL_FOR_FEEDS,
          "definitions", Brakes.USUAL_FOR_DEFINITIONS,
          "reconciles", Brakes.USUAL_FOR_RECONCILES,
          "playbooks", Brakes.USUAL_FOR_PLAYBOOKS,
          "campaigns", Brakes.USUAL_FOR_CAMPAIGNS);

  @Override
  public String word() {
    return "brake";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of();
  }

  /** The brake on something: as defined, or the usual one. */
  public static Brakes on(String key, Defined known) {
    var usual = Objects.requireNonNull(USUAL.get(key), key);
    return known.all(BrakeKind.class).getOrDefault(key, usual);
  }

  @Override
  public Optional<Brakes> read(String key, Reading reading, Defined known) {
    var usual = USUAL.get(key);
    if (usual == null) {
      reading.problem(
          reading.place("brake"),
          "There is no brake “%s”; there are campaigns, definitions, feeds, playbooks and reconciles."
              .formatted(key));
      return Optional.empty();
    }
    var changed = new EnumMap<Brakes.Measure, Brakes.Limit>(Brakes.Measure.class);
    for (var measure : usual.limits().keySet()) {
      reading
          .text(measure.word())
          .ifPresent(
              text -> limit(measure, text, reading).ifPresent(it -> changed.put(measure, it)));
    }
    return Optional.of(usual.with(changed));
  }

  /** A limit as it is written, such as {@code 200 or 5 %}; nothing where it is none. */
  public static Optional<Brakes.Limit> limit(String text) {
    var limit = LIMIT.matcher(text.strip());
    return limit.matches()
        ? Optional.of(
            new Brakes.Limit(Integer.parseInt(limit.group(1)), Integer.parseInt(limit.group(2))))
        : Optional.empty();
  }

  private static Optional<Brakes.Limit> limit(
      Brakes.Measure measure, String text, Reading reading) {
    var limit = limit(text);
    if (limit.isPresent()) {
      return limit;
    }
    reading.problem(
        reading.place(measure.word()),
        "%s is “%s”; say a number and a share, such as 200 or 5 %%."
            .formatted(measure.word(), text));
    return Optional.empty();
  }

  /** Limits change nobody's access. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
