package glenmoor.core.requests;

import glenmoor.core.access.Portfolio;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.AskCondition;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.requests.Question.Kind;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads the questions of an offer. */
final class QuestionReading {
  private QuestionReading() {}

  /**
   * The question that some fields are.
   *
   * @param allowed the portfolio beyond which no answer may reach; nothing where there is none, and
   *     then no answer gives anything
   */
  static Question question(
      Tree.Fields fields, Reading offer, Defined known, Optional<Portfolio> allowed) {
    var reading = offer.of(fields);
    var key = reading.needed("key", "under which the answer is kept");
    if (!key.isEmpty() && !key.matches("[a-z][a-zA-Z0-9]{0,39}")) {
      reading.problem(
          reading.place("key"),
          "A question's key is made of letters and digits, such as harbour; this is “%s”."
              .formatted(key));
    }
    var choices = reading.texts("choices").stream().map(Tree.Text::value).toList();
    var kind = reading.choice("kind", choices.isEmpty() ? Kind.TEXT : Kind.CHOICE, Kind::word);
    if ((kind == Kind.CHOICE) == choices.isEmpty()) {
      reading.problem(
          reading.place("choices"),
          "choices belong to a question of the kind choice, and only there.");
    }
    var where =
        reading.has("where")
            ? new Compiling(reading, known).askCondition("where")
            : Optional.<AskCondition>empty();
    var question =
        new Question(
            key,
            reading.needed("ask", "the question in words"),
            kind,
            choices,
            reading.oneOf("required", "yes", List.of("yes", "no")).equals("yes"),
            where,
            gives(reading, choices, allowed));
    reading.finish();
    return question;
  }

  private static Map<String, List<String>> gives(
      Reading reading, List<String> choices, Optional<Portfolio> allowed) {
    var gives = new LinkedHashMap<String, List<String>>();
    var inside = reading.inside("gives");
    for (var answer : reading.map("gives").keySet()) {
      if (!choices.contains(answer)) {
        reading.problem(inside.place(answer), "“%s” is none of the choices.".formatted(answer));
      }
      var given = inside.texts(answer);
      for (var each : given) {
        if (allowed
            .filter(portfolio -> portfolio.entitlements().contains(each.value()))
            .isEmpty()) {
          reading.problem(
              each.place(),
              "The answer “%s” would give “%s”, which is not in %s."
                  .formatted(
                      answer,
                      each.value(),
                      allowed
                          .map(portfolio -> "the portfolio " + portfolio.key())
                          .orElse("any portfolio of the package")));
        }
      }
      gives.put(answer, given.stream().map(Tree.Text::value).toList());
    }
    return gives;
  }
}
