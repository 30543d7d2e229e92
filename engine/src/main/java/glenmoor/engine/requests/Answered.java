package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** A question with its answer. */
public record Answered(String key, String question, String answer) {
  static List<Answered> of(String offer, Map<String, String> answers, Catalogue catalogue) {
    var questions = new LinkedHashMap<String, String>();
    Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(offer))
        .map(Offer::questions)
        .orElse(List.of())
        .forEach(each -> questions.put(each.key(), each.text()));
    return answers.entrySet().stream()
        .map(each ->
            new Answered(
                each.getKey(),
                questions.getOrDefault(each.getKey(), each.getKey()),
                each.getValue()))
        .toList();
  }
}
