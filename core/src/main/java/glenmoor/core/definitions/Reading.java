package glenmoor.core.definitions;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.regex.Pattern;

/**
 * Reads the fields of one definition, collecting problems instead of stopping at the first, and
 * noticing keys that mean nothing.
 */
public final class Reading {
  private static final Pattern DAYS = Pattern.compile("(\\d{1,4}) days?");

  private final Tree.Fields body;
  private final List<Problem> problems;
  private final Set<String> read = new TreeSet<>();

  Reading(Tree.Fields body, List<Problem> problems) {
    this.body = body;
    this.problems = problems;
  }

  /** Reads fields that stand in no document, such as those that were kept of one. */
  public static Reading over(Tree.Fields fields, List<Problem> problems) {
    return new Reading(fields, problems);
  }

  public void problem(Tree.Place place, String sentence) {
    problems.add(new Problem(place, sentence));
  }

  public Tree.Place place(String key) {
    var tree = body.fields().get(key);
    return tree == null ? body.place() : tree.place();
  }

  public Optional<String> text(String key) {
    read.add(key);
    return switch (body.fields().get(key)) {
      case null -> Optional.empty();
      case Tree.Text text -> Optional.of(text.value());
      case Tree.Items items -> refuse(items, key, "a text");
      case Tree.Fields fields -> refuse(fields, key, "a text");
    };
  }

  public String text(String key, String otherwise) {
    return text(key).orElse(otherwise);
  }

  public String needed(String key, String what) {
    var text = text(key);
    if (text.isEmpty() && !body.fields().containsKey(key)) {
      problem(body.place(), "%s is missing: say %s.".formatted(key, what));
    }
    return text.orElse("");
  }

  /** Whether the key is there, whatever stands under it. */
  public boolean has(String key) {
    return body.fields().containsKey(key);
  }

  public boolean yesNo(String key) {
    return oneOf(key, "no", List.of("yes", "no", "true", "false")).matches("yes|true");
  }

  public int number(String key, int otherwise) {
    var text = text(key);
    if (text.isPresent() && !text.get().matches("\\d{1,6}")) {
      problem(place(key), "%s is “%s”; say a whole number.".formatted(key, text.get()));
      return otherwise;
    }
    return text.map(Integer::parseInt).orElse(otherwise);
  }

  /** How many days a text such as {@code 7 days} says; nothing where it says no number of days. */
  public static Optional<Integer> days(String text) {
    var days = DAYS.matcher(text);
    return days.matches() ? Optional.of(Integer.parseInt(days.group(1))) : Optional.empty();
  }

  public int days(String key, int otherwise) {
    var text = text(key);
    if (text.isEmpty()) {
      return otherwise;
    }
    var days = days(text.get());
    if (days.isEmpty()) {
      problem(
          place(key),
          "%s is “%s”; say a number of days, such as 7 days.".formatted(key, text.get()));
    }
    return days.orElse(otherwise);
  }

  public String oneOf(String key, String otherwise, List<String> allowed) {
    var text = text(key).orElse(otherwise);
    if (!allowed.contains(text)) {
      problem(
          place(key),
          "%s is “%s”; say one of %s.".formatted(key, text, String.join(", ", allowed)));
      return otherwise;
    }
    return text;
  }

  public <E extends Enum<E>> E choice(String key, E otherwise, Function<E, String> word) {
    var all = Arrays.asList(otherwise.getDeclaringClass().getEnumConstants());
    var text = oneOf(key, word.apply(otherwise), all.stream().map(word).toList());
    return all.stream().filter(each -> word.apply(each).equals(text)).findFirst().orElseThrow();
  }

  /** A list of words, each one of those there are. */
  public <E extends Enum<E>> Set<E> choices(String key, Class<E> type, Function<E, String> word) {
    var all = Arrays.asList(type.getEnumConstants());
    var chosen = EnumSet.noneOf(type);
    for (var text : texts(key)) {
      var found = all.stream().filter(each -> word.apply(each).equals(text.value())).findFirst();
      found.ifPresentOrElse(
          chosen::add,
          () ->
              problem(
                  text.place(),
                  "%s has “%s”; say some of %s."
                      .formatted(
                          key, text.value(), String.join(", ", all.stream().map(word).toList()))));
    }
    return Collections.unmodifiableSet(chosen);
  }

  public List<Tree.Text> texts(String key) {
    read.add(key);
    var texts = new ArrayList<Tree.Text>();
    switch (body.fields().get(key)) {
      case null -> {}
      case Tree.Text text -> texts.add(text);
      case Tree.Fields fields -> refuse(fields, key, "a list");
      case Tree.Items items -> {
        for (var item : items.items()) {
          if (item instanceof Tree.Text text) {
            texts.add(text);
          } else {
            refuse(item, key, "a list of texts");
          }
        }
      }
    }
    return texts;
  }

  /** What stands in a list, whatever it is. */
  public List<Tree> items(String key) {
    read.add(key);
    return switch (body.fields().get(key)) {
      case null -> List.of();
      case Tree.Items items -> items.items();
      case Tree.Text text -> this.<List<Tree>>refuse(text, key, "a list").orElse(List.of());
      case Tree.Fields fields -> this.<List<Tree>>refuse(fields, key, "a list").orElse(List.of());
    };
  }

  public Map<String, Tree> map(String key) {
    read.add(key);
    return switch (body.fields().get(key)) {
      case null -> Map.of();
      case Tree.Fields fields -> fields.fields();
      case Tree.Text text ->
          this.<Map<String, Tree>>refuse(text, key, "keys with values").orElse(Map.of());
      case Tree.Items items ->
          this.<Map<String, Tree>>refuse(items, key, "keys with values").orElse(Map.of());
    };
  }

  /** The fields under a key; a text that stands there alone is the value of one of them. */
  public Reading inside(String key, String alone) {
    if (!(body.fields().get(key) instanceof Tree.Text text)) {
      return inside(key);
    }
    read.add(key);
    return new Reading(new Tree.Fields(text.place(), Map.of(alone, text)), problems);
  }

  public Reading inside(String key) {
    var fields = new LinkedHashMap<>(map(key));
    return new Reading(new Tree.Fields(place(key), fields), problems);
  }

  /** Reads the fields of a value inside. */
  public Reading of(Tree.Fields fields) {
    return new Reading(fields, problems);
  }

  private <T> Optional<T> refuse(Tree found, String key, String wanted) {
    problem(found.place(), "%s should be %s.".formatted(key, wanted));
    return Optional.empty();
  }

  /** Reports the keys nobody asked for: most are misspelt. */
  public void finish() {
    body.fields()
        .forEach((key, value) -> {
          if (!read.contains(key)) {
            problem(
                value.place(),
                "%s means nothing here; what can stand here is %s."
                    .formatted(key, String.join(", ", read)));
          }
        });
  }
}
