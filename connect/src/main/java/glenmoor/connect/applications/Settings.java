package glenmoor.connect.applications;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Settings of the way to another system, as an application's or a source's definition gives them.
 * {@code ${NAME}} in a text is replaced by the value of a declared name, so that one definition
 * serves a test and the real thing, and no secret is written in it.
 */
public final class Settings {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$\\{([A-Z0-9_]+)}");

  private static final Pattern DIRECTORY = Pattern.compile("[a-z0-9][a-z0-9-]{0,63}");

  /** A setting is missing or wrong. */
  public static final class BadSetting extends RuntimeException {
    public BadSetting(String sentence) {
      super(sentence);
    }
  }

  /** Whose they are, in words: {@code application directory}. */
  private final String whose;

  private final Map<String, Object> values;
  private final ConnectorEnvironment environment;

  /**
   * @param known all settings that the connector has
   * @throws BadSetting if others are given: one that nothing reads may be a secret in the open
   */
  Settings(
      String application,
      Map<String, Object> values,
      Set<String> known,
      ConnectorEnvironment environment) {
    this(values, known, "application " + application, environment);
  }

  private Settings(
      Map<String, Object> values,
      Set<String> known,
      String whose,
      ConnectorEnvironment environment) {
    this.whose = whose;
    this.values = values;
    this.environment = environment;
    var unknown = new TreeSet<>(values.keySet());
    unknown.removeAll(known);
    if (!unknown.isEmpty()) {
      throw new BadSetting(
          "The %s has no setting called %s; there are %s."
              .formatted(
                  whose, String.join(", ", unknown), String.join(", ", new TreeSet<>(known))));
    }
  }

  /**
   * Those of a source.
   *
   * @throws BadSetting if others than the known ones are given
   */
  static Settings ofSource(
      String source,
      Map<String, Object> values,
      Set<String> known,
      ConnectorEnvironment environment) {
    return new Settings(values, known, "source " + source, environment);
  }

  /**
   * Those of a channel.
   *
   * @throws BadSetting if others than the known ones are given
   */
  public static Settings ofChannel(
      String channel,
      Map<String, Object> values,
      Set<String> known,
      ConnectorEnvironment environment) {
    return new Settings(values, known, "channel " + channel, environment);
  }

  /** Whose they are, in words. */
  String whose() {
    return whose;
  }

  /** A text that must be there. */
  public String needed(String key) {
    return text(key)
        .orElseThrow(() ->
            new BadSetting(
                "The %s has no setting %s; add it to its definition and load that again."
                    .formatted(whose, key)));
  }

  public Optional<String> text(String key) {
    return Optional.ofNullable(values.get(key)).map(value -> filled(value.toString()));
  }

  public String text(String key, String otherwise) {
    return text(key).orElse(otherwise);
  }

  public List<String> texts(String key, List<String> otherwise) {
    return values.get(key) instanceof List<?> list
        ? list.stream().map(value -> filled(value.toString())).toList()
        : otherwise;
  }

  /** Texts by their keys; empty where there are none. */
  public Map<String, String> map(String key) {
    var texts = new TreeMap<String, String>();
    if (values.get(key) instanceof Map<?, ?> map) {
      map.forEach((name, value) -> texts.put(name.toString(), filled(value.toString())));
    }
    return texts;
  }

  /** The address that a setting names, if the application may be there. */
  public String address(String key) {
    var url = needed(key);
    environment.reachable().check(whose, url);
    return url;
  }

  /**
   * A directory through which files are exchanged, below the one of this service.
   *
   * @throws BadSetting if the service has none, or the name leads elsewhere
   */
  public Path files(String name) {
    if (!DIRECTORY.matcher(name).matches()) {
      throw new BadSetting(
          "The directory “%s” of the %s is no plain name: small letters, digits and hyphens."
              .formatted(name, whose));
    }
    return environment
        .exchange()
        .orElseThrow(() ->
            new BadSetting(
                "This service exchanges no files: GLENMOOR_EXCHANGE_DIRECTORY says where their directories are."))
        .resolve(name);
  }

  /** The secret in the file that a setting names. */
  public String secretFrom(String key) {
    var file = needed(key);
    try {
      return environment.secret(file);
    } catch (BadSetting bad) {
      throw new BadSetting(
          "The setting %s of the %s cannot be used. %s".formatted(key, whose, bad.getMessage()));
    }
  }

  private String filled(String text) {
    return PLACEHOLDER
        .matcher(text)
        .replaceAll(found ->
            Matcher.quoteReplacement(
                environment
                    .names()
                    .apply(found.group(1))
                    .orElseThrow(() ->
                        new BadSetting(
                            "A setting of the %s needs %s, which is not among the names declared for definitions: they begin with GLENMOOR_APPLICATION_."
                                .formatted(whose, found.group(1))))));
  }
}
