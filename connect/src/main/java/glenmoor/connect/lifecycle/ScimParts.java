package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Which attributes of a resource a client wants to read (RFC 7644, section 3.9): all, those it
 * names, or all but those it names. {@code id} and {@code schemas} are always there.
 */
public final class ScimParts {
  public static final ScimParts ALL = new ScimParts(List.of(), false);
  private static final Set<String> ALWAYS = Set.of("id", "schemas");
  private static final Set<String> CORE = Set.of(ScimPerson.USER, ScimGroup.GROUP);
  private static final Pattern NAME = Pattern.compile("[$A-Za-z][-$\\w]*");
  private static final String URN = "urn:";

  private final List<List<String>> paths;
  private final boolean without;

  private ScimParts(List<List<String>> paths, boolean without) {
    this.paths = paths;
    this.without = without;
  }

  /**
   * As a client says it in an address.
   *
   * @param only names with commas between; null or empty for all
   * @param without the same, of those that are left out
   * @throws ScimPerson.Unusable if both are said, or one is no name
   */
  public static ScimParts of(@Nullable String only, @Nullable String without) {
    return of(names(only), names(without));
  }

  /** As a client says it in a body. */
  static ScimParts of(Collection<String> only, Collection<String> without) {
    if (!only.isEmpty() && !without.isEmpty()) {
      throw new ScimPerson.Unusable(
          "invalidValue", "attributes and excludedAttributes cannot both be given.");
    }
    var names = only.isEmpty() ? without : only;
    return names.isEmpty()
        ? ALL
        : new ScimParts(names.stream().map(ScimParts::path).toList(), only.isEmpty());
  }

  static List<String> names(@Nullable String text) {
    return text == null
        ? List.of()
        : Arrays.stream(text.split(",")).map(String::strip).filter(it -> !it.isEmpty()).toList();
  }

  /** Where a name leads: what it is in, step by step. One of an extension is one step yet. */
  private static List<String> path(String said) {
    var name =
        CORE.stream()
            .map(core -> core + ":")
            .filter(core -> said.regionMatches(true, 0, core, 0, core.length()))
            .findFirst()
            .map(core -> said.substring(core.length()))
            .orElse(said);
    if (isOfExtension(name)) {
      return List.of(name);
    }
    var steps = steps(name);
    if (steps.size() > 2 || steps.stream().anyMatch(each -> !NAME.matcher(each).matches())) {
      throw new ScimPerson.Unusable("invalidPath", "“%s” is no attribute of SCIM.".formatted(said));
    }
    return steps;
  }

  private static List<String> steps(String name) {
    return Arrays.asList(name.split("\\.", -1));
  }

  private static boolean isOfExtension(String name) {
    return name.regionMatches(true, 0, URN, 0, URN.length());
  }

  /**
   * Where the extension's name ends and the attribute's begins is told by the extensions that the
   * resource has: a name alone could be read either way.
   */
  private static Stream<List<String>> within(ObjectNode whole, List<String> path) {
    var name = path.getFirst();
    if (!isOfExtension(name)) {
      return Stream.of(path);
    }
    return whole
        .propertyStream()
        .map(Map.Entry::getKey)
        .filter(key -> (name + ":").regionMatches(true, 0, key + ":", 0, key.length() + 1))
        .map(key ->
            name.length() == key.length()
                ? List.of(key)
                : Stream.concat(Stream.of(key), steps(name.substring(key.length() + 1)).stream())
                    .toList());
  }

  /** The resource with what is wanted of it; what is given stays as it is. */
  ObjectNode of(ObjectNode whole) {
    if (paths.isEmpty()) {
      return whole;
    }
    var wanted = paths.stream().flatMap(path -> within(whole, path)).toList();
    var shown = JsonUtils.getJsonNodeFactory().objectNode();
    whole
        .properties()
        .forEach(each -> {
          if (ALWAYS.contains(each.getKey())) {
            shown.set(each.getKey(), each.getValue());
          } else {
            part(each.getKey(), each.getValue(), wanted)
                .ifPresent(kept -> shown.set(each.getKey(), kept));
          }
        });
    return shown;
  }

  /** What is left of one attribute. */
  private Optional<JsonNode> part(String name, JsonNode value, List<List<String>> wanted) {
    var within =
        wanted.stream()
            .filter(path -> path.getFirst().equalsIgnoreCase(name))
            .map(path -> path.subList(1, path.size()))
            .toList();
    if (within.isEmpty()) {
      return without ? Optional.of(value) : Optional.empty();
    }
    if (within.stream().anyMatch(List::isEmpty)) {
      return without ? Optional.empty() : Optional.of(value);
    }
    return parts(value, within);
  }

  private Optional<JsonNode> parts(JsonNode value, List<List<String>> within) {
    if (value instanceof ObjectNode object) {
      var kept = JsonUtils.getJsonNodeFactory().objectNode();
      object
          .properties()
          .forEach(each ->
              part(each.getKey(), each.getValue(), within)
                  .ifPresent(left -> kept.set(each.getKey(), left)));
      return kept.isEmpty() ? Optional.empty() : Optional.of(kept);
    }
    if (value instanceof ArrayNode array) {
      var kept = JsonUtils.getJsonNodeFactory().arrayNode();
      array.forEach(each -> parts(each, within).ifPresent(kept::add));
      return kept.isEmpty() ? Optional.empty() : Optional.of(kept);
    }
    // It has no parts: there is nothing of that name in it.
    return without ? Optional.of(value) : Optional.empty();
  }
}
