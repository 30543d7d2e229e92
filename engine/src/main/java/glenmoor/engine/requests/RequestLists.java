package glenmoor.engine.requests;

import glenmoor.core.access.Entitlement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.ListedLine;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.OfferNumbers;
import glenmoor.engine.Authorization;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.Wanted;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Lists of requests, and how they fare in numbers. */
@Named
public final class RequestLists {
  private final RequestMapper requests;
  private final PersonMapper people;
  private final Asking asking;
  private final Catalogues catalogues;
  private final Clock clock;

  RequestLists(
      RequestMapper requests,
      PersonMapper people,
      Asking asking,
      Catalogues catalogues,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.asking = asking;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Lines of requests, the last one first.
   *
   * @param whose {@code mine} those that the actor asked for or gets, {@code waiting} those that
   *     wait for the actor, {@code all} for those who see requests
   * @throws glenmoor.engine.Refused where the actor may not see that
   */
  public List<ListedLine> list(
      String whose,
      @Nullable String worker,
      @Nullable String offer,
      @Nullable String state,
      long before,
      int limit,
      Actor actor) {
    var own = asking.own(actor);
    var all = whose.equals("all");
    if (all) {
      Authorization.need(actor, Permission.SEE_REQUESTS);
    } else if (own == null) {
      return List.of();
    }
    var person = worker == null || worker.isEmpty() ? null : people.byWorker(worker);
    if (worker != null && !worker.isEmpty() && person == null) {
      return List.of();
    }
    return requests.list(
        new Wanted(
            whose.equals("mine") && own != null ? own.id() : null,
            whose.equals("waiting") && own != null ? own.id() : null,
            person == null ? null : person.id(),
            offer,
            state,
            before,
            limit));
  }

  /**
   * What a line in a list is about.
   *
   * @param gives plain names
   */
  public record ListedAbout(
      String name, List<String> gives, List<RequestViews.Answered> answers, String risk) {}

  /** The same, from the row of a list. */
  public ListedAbout about(ListedLine line) {
    var catalogue = catalogues.current();
    var gives = Ask.gives(line.packageKey(), LineRuns.keys(line.selected()), catalogue).toList();
    return new ListedAbout(
        Optional.ofNullable(catalogue.packages().get(line.packageKey()))
            .map(RolePackage::name)
            .orElse(line.packageKey()),
        gives.stream().map(Entitlement::plainName).toList(),
        RequestViews.answered(line.offer(), LineRuns.answersOf(line.answers()), catalogue),
        Ask.risk(gives.stream()).word());
  }

  /**
   * How the asks under an offer fare.
   *
   * @param name its plain name
   */
  public record Numbers(String name, OfferNumbers of) {}

  private static final Duration LOOKED_AT = Duration.ofDays(90);

  /** The same of every offer that was asked for, within ninety days. */
  public List<Numbers> numbers(Actor actor) {
    Authorization.need(actor, Permission.SEE_REQUESTS);
    var offers = catalogues.current().defined().all(OfferKind.class);
    return requests.numbers(clock.instant().minus(LOOKED_AT)).stream()
        .map(each ->
            new Numbers(
                Optional.ofNullable(offers.get(each.offer())).map(Offer::name).orElse(each.offer()),
                each))
        .toList();
  }

  /** How many lines wait for the actor, up to a number. */
  public int waiting(int most, Actor actor) {
    var own = asking.own(actor);
    return own == null ? 0 : requests.countAsked(own.id(), most);
  }
}
