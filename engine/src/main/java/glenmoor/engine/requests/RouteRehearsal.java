package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement.Risk;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Route;
import glenmoor.core.requests.RouteKind;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.people.Audience;
import glenmoor.engine.people.Visible;
import glenmoor.engine.requests.RequestPreviews.PreviewStage;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What routes and offers would do for somebody, before anybody asks: nothing is kept. */
@Named
public final class RouteRehearsal {
  /**
   * A route as it would be gone for somebody.
   *
   * @param stages who would be asked, and when what would happen if nobody decided
   */
  public record Rehearsed(String route, String name, Who subject, List<PreviewStage> stages) {}

  /**
   * An offer that is being written.
   *
   * @param people for how many it is, of all who are here or expected
   * @param unanswered for how many that cannot be told
   * @param rehearsal its route for a chosen person; null for none
   */
  public record OfferDrafted(int people, int of, int unanswered, @Nullable Rehearsed rehearsal) {}

  private final RequestPreviews previews;
  private final Visible visible;
  private final DefinitionDrafts drafts;
  private final Audience audience;
  private final Catalogues catalogues;
  private final Clock clock;

  RouteRehearsal(
      RequestPreviews previews,
      Visible visible,
      DefinitionDrafts drafts,
      Audience audience,
      Catalogues catalogues,
      Clock clock) {
    this.previews = previews;
    this.visible = visible;
    this.drafts = drafts;
    this.audience = audience;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Who would be asked, were somebody to ask.
   *
   * @param offer whose package it is about; empty for one of no package
   * @throws Refused if there is no such route, offer or person, as far as the actor may know
   */
  public Rehearsed rehearse(String route, String offer, String worker, Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    var catalogue = catalogues.current();
    var found = catalogue.defined().all(RouteKind.class).get(route);
    if (found == null) {
      throw Refused.notThere(
          "There is no route “%s”; there are %s."
              .formatted(
                  route, String.join(", ", catalogue.defined().all(RouteKind.class).keySet())));
    }
    var about = catalogue.defined().all(OfferKind.class).get(offer);
    if (about == null && !offer.isEmpty()) {
      throw Refused.notThere("There is no offer “%s”.".formatted(offer));
    }
    return rehearsed(found, Optional.ofNullable(about), worker, catalogue, actor);
  }

  private Rehearsed rehearsed(
      Route route, Optional<Offer> offer, String worker, Catalogue catalogue, Actor actor) {
    var subject = visible.row(worker, actor);
    var rolePackage = offer.map(Offer::rolePackage).orElse("");
    var gives = Ask.gives(rolePackage, List.of(), catalogue).toList();
    var view =
        Ask.view(
            FactsJson.person(subject, catalogue.facts()),
            AskKind.NEW,
            null,
            gives.isEmpty() ? Risk.USUAL : Ask.risk(gives.stream()),
            0,
            Map.of(),
            catalogue);
    return new Rehearsed(
        route.key(),
        route.name(),
        new Who(subject.workerNumber(), subject.name()),
        previews.stages(
            new Organisations.About(
                subject,
                subject.id(),
                LineMoves.portfolio(rolePackage, catalogue),
                gives,
                List.of(),
                List.of()),
            route.stages(),
            view,
            catalogue,
            clock.instant()));
  }

  /**
   * For how many an offer is that is being written, and who would be asked for one of them.
   *
   * @param worker for whom; null for nobody
   * @throws Refused with every mistake in the text, or where the actor may not load such a one
   */
  public OfferDrafted draft(String key, String text, @Nullable String worker, Actor actor) {
    var catalogue = drafts.with(text, actor);
    Optional<Offer> offer = Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(key));
    if (offer.isEmpty()) {
      throw Refused.badInput("The text is of no offer “%s”.".formatted(key));
    }
    var counted =
        offer.get().audience().isEmpty()
            ? audience.everybody(catalogue)
            : audience.of(offer.get().audience().get(), catalogue);
    Optional<Route> route =
        Optional.ofNullable(catalogue.defined().all(RouteKind.class).get(offer.get().route()));
    return new OfferDrafted(
        counted.people(),
        counted.of(),
        counted.unanswered(),
        worker == null || worker.isBlank() || route.isEmpty()
            ? null
            : rehearsed(route.get(), offer, worker, catalogue, actor));
  }
}
