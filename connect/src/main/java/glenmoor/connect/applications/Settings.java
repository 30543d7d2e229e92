package glenmoor.connect.applications;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A connector's settings, as an application's definition gives them. {@code ${NAME}} in a text is
 * replaced by the environment's value, so that one definition serves a test and the real thing, and
 * no secret is written in it.
 */
public final class Settings {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$\\{([A-Z0-9_]+)}");

  /** A setting is missing or wrong. */
  public static final class BadSetting extends RuntimeException {
    public BadSetting(String sentence) {
      super(sentence);
    }
  }

  private final String application;
  private final Map<String, Object> values;
  private final Function<String, Optional<String>> environment;

  public Settings(
      String application,
      Map<String, Object> values,
      Function<String, Optional<String>> environment) {
    this.application = application;
    this.values = values;
    this.environment = environment;
  }

  /** A text that must be there. */
  public String needed(String key) {
    return text(key)
        .orElseThrow(() ->
            new BadSetting(
                "The application %s has no setting %s; add it under settings and load the definition again."
                    .formatted(application, key)));
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

  /** The content of the file that a setting names, without the last line end. */
  public String secretFrom(String key) {
    var file = needed(key);
    try {
      return Files.readString(Path.of(file)).strip();
    } catch (IOException unreadable) {
      throw new BadSetting(
          "The setting %s of the application %s names the file %s, which cannot be read: %s"
              .formatted(key, application, file, unreadable.getMessage()));
    }
  }

  private String filled(String text) {
    return PLACEHOLDER
        .matcher(text)
        .replaceAll(found ->
            Matcher.quoteReplacement(
                environment
                    .apply(found.group(1))
                    .orElseThrow(() ->
                        new BadSetting(
                            "A setting of the application %s needs %s, which is not in the environment."
                                .formatted(application, found.group(1))))));
  }
}
