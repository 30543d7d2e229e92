package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.people.Facts;
import glenmoor.engine.Refused;
import java.util.Map;

/** Facts that somebody says in words, such as {@code location=Westholm}. */
public final class SaidFacts {
  private SaidFacts() {}

  /**
   * The same facts with those that are said; one that is said to be empty is taken away.
   *
   * @throws Refused if there is no such fact, or it cannot be that
   */
  public static Facts with(Facts before, Map<String, String> said, Catalogue catalogue) {
    var facts = before;
    for (var each : said.entrySet()) {
      var fact = catalogue.facts().get(each.getKey());
      if (fact == null) {
        throw Refused.badInput(
            "There is no fact “%s”; the facts are %s."
                .formatted(each.getKey(), String.join(", ", catalogue.facts().keySet())));
      }
      var text = each.getValue().strip();
      facts =
          facts.with(
              each.getKey(),
              text.isEmpty()
                  ? null
                  : fact.type()
                      .read(text)
                      .orElseThrow(() ->
                          Refused.badInput(
                              "%s is “%s”; expected %s."
                                  .formatted(each.getKey(), text, fact.type().expectation()))));
    }
    return facts;
  }
}
