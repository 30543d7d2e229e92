package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.OfferCatalogue;
import glenmoor.engine.requests.OfferCatalogue.Offered;
import glenmoor.server.authorization.ForEverybody;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What can be asked for. */
@RestController
@RequestMapping("/api/v1/offers")
class OffersApi {
  private final OfferCatalogue offers;

  OffersApi(OfferCatalogue offers) {
    this.offers = offers;
  }

  /**
   * What whoever asks this may ask for, for themselves or for somebody else; the best match first.
   */
  @ForEverybody
  @GetMapping
  List<Offered> find(
      @RequestParam @Nullable String worker, @RequestParam @Nullable String text, Actor actor) {
    return offers.find(worker == null ? "" : worker, text == null ? "" : text, actor);
  }
}
