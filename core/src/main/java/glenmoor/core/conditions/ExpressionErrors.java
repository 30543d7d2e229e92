package glenmoor.core.conditions;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeSet;
import java.util.regex.Pattern;

/** What the compiler of expressions says, in words that help whoever wrote one. */
final class ExpressionErrors {
  private static final int NEAR = 2;
  private static final Pattern UNDECLARED = Pattern.compile("undeclared reference to '([^']*)'.*");
  private static final Pattern OVERLOAD =
      Pattern.compile(
          "found no matching overload for '([^']*)' applied to '\\(?([^']*?)\\)?'(?: .*)?");
  private static final Pattern RESULT =
      Pattern.compile("expected type '([^']+)' but found '([^']+)'.*");
  private static final List<String> FUNCTIONS =
      List.of(
          "fold",
          "slug",
          "initials",
          "size",
          "startsWith",
          "endsWith",
          "contains",
          "matches",
          "substring",
          "lowerAscii",
          "upperAscii",
          "replace",
          "split",
          "join",
          "trim",
          "charAt",
          "indexOf",
          "timestamp",
          "duration",
          "string",
          "int",
          "has");
  private static final Map<String, String> TYPES =
      Map.of(
          "string", "a text",
          "int", "a whole number",
          "double", "a number with a fraction",
          "bool", "yes or no",
          "google.protobuf.Timestamp", "a date",
          "timestamp", "a date",
          "null", "nothing");
  private static final Map<String, String> OPERATORS =
      Map.of(
          "_==_",
          "compared",
          "_!=_",
          "compared",
          "_<_",
          "compared",
          "_>_",
          "compared",
          "_<=_",
          "compared",
          "_>=_",
          "compared",
          "_+_",
          "added",
          "_&&_",
          "joined by and",
          "_||_",
          "joined by or",
          "@in",
          "looked for in each other");

  private ExpressionErrors() {}

  /**
   * One error in words.
   *
   * @param facts what can be named after {@code person.}
   */
  static String inWords(String message, Collection<String> facts) {
    var undeclared = UNDECLARED.matcher(message);
    if (undeclared.matches()) {
      return undeclared(undeclared.group(1), facts);
    }
    var overload = OVERLOAD.matcher(message);
    if (overload.matches()) {
      return overload(overload.group(1), overload.group(2));
    }
    var result = RESULT.matcher(message);
    if (result.matches()) {
      return "it gives %s where %s is needed"
          .formatted(type(result.group(2)), type(result.group(1)));
    }
    return message.startsWith("mismatched input")
            || message.startsWith("extraneous input")
            || message.startsWith("no viable alternative")
            || message.startsWith("missing ")
            || message.startsWith("token recognition error")
        ? "it cannot be read from here on: a sign or word is missing, or one too many ("
            + message
            + ")"
        : message;
  }

  private static String undeclared(String name, Collection<String> facts) {
    if (facts.contains(name)) {
      return "there is nothing called %s; say person.%s".formatted(name, name);
    }
    var known = new TreeSet<>(FUNCTIONS);
    facts.forEach(fact -> known.add("person." + fact));
    known.add("accounts");
    known.add("account.name");
    return "there is nothing called %s%s".formatted(name, nearest(name, known));
  }

  private static String overload(String function, String arguments) {
    var types =
        List.of(arguments.split(", ")).stream().map(ExpressionErrors::type).distinct().toList();
    var how = OPERATORS.get(function);
    return how == null
        ? "%s cannot be used on %s%s"
            .formatted(function, String.join(" and ", types), nearest(function, FUNCTIONS))
        : "%s cannot be %s; dates are written timestamp(\"2027-03-01T00:00:00Z\"), texts in quotes, numbers without"
            .formatted(String.join(" and ", types), how);
  }

  private static String type(String name) {
    var plain = name.strip().replaceFirst("^wrapper\\((.*)\\)$", "$1");
    return TYPES.getOrDefault(plain, plain);
  }

  /** {@code " (did you mean x?)"} where something known is near; else nothing. */
  static String nearest(String name, Collection<String> known) {
    String best = "";
    var distance = NEAR + 1;
    for (var each : known) {
      var here = distance(name.toLowerCase(Locale.ROOT), each.toLowerCase(Locale.ROOT));
      if (here < distance && !each.equals(name)) {
        best = each;
        distance = here;
      }
    }
    return best.isEmpty() ? "" : " (did you mean " + best + "?)";
  }

  /** How many letters have to be changed, added or taken away (Levenshtein 1966). */
  private static int distance(String a, String b) {
    var before = new int[b.length() + 1];
    for (var j = 0; j <= b.length(); j++) {
      before[j] = j;
    }
    for (var i = 1; i <= a.length(); i++) {
      var now = new int[b.length() + 1];
      now[0] = i;
      for (var j = 1; j <= b.length(); j++) {
        var change = before[j - 1] + (a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1);
        now[j] = Math.min(change, Math.min(before[j], now[j - 1]) + 1);
      }
      before = now;
    }
    return before[b.length()];
  }
}
