package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.OfferCatalogue;
import glenmoor.engine.requests.OfferCatalogue.Offered;
import glenmoor.engine.requests.Who;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What can be asked for. */
@RestController
@RequestMapping("/api/v1/offers")
class OffersApi {
  /**
   * Answers so far.
   *
   * @param worker for whom; left out for oneself
   */
  record AnswersSoFar(@Nullable String worker, @NotNull Map<String, @NotNull String> answers) {}

  private final OfferCatalogue offers;

  OffersApi(OfferCatalogue offers) {
    this.offers = offers;
  }

  /** Those with whom whoever asks this shares a manager: like them one may ask for things. */
  @ForEverybody
  @GetMapping("/colleagues")
  List<Who> colleagues(Actor actor) {
    return offers.colleagues(actor);
  }

  /** Which questions of an offer are asked with some answers, by their keys. */
  @ForEverybody
  @PostMapping("/{key}/questions")
  List<String> questions(
      @PathVariable String key, @Valid @RequestBody AnswersSoFar body, Actor actor) {
    var worker = body.worker();
    return offers.asked(key, worker == null ? "" : worker, body.answers(), actor);
  }

  /**
   * What whoever asks this may ask for, for themselves or for somebody else; the best match first.
   *
   * @param like a colleague: only what they have
   */
  @ForEverybody
  @GetMapping
  List<Offered> find(
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String text,
      @RequestParam @Nullable String like,
      Actor actor) {
    return offers.find(
        worker == null ? "" : worker, text == null ? "" : text, like == null ? "" : like, actor);
  }
}
