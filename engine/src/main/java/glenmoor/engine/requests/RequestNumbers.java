package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Entitlement.Risk;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.people.ValueCount;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.OfferNumbers;
import glenmoor.core.requests.Route;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.StageNumbers;
import glenmoor.engine.Authorization;
import glenmoor.engine.applications.Seats;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.GivenNumbers;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * How requests fare in numbers, within ninety days: by offer, by stage and by application, as far
 * as somebody sees them by their duties.
 */
@Named
public final class RequestNumbers {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<LinkedHashMap<String, Object>> SAID = new TypeReference<>() {};
  private static final Duration LOOKED_AT = Duration.ofDays(90);

  /**
   * How the asks under an offer fare.
   *
   * @param name its plain name
   */
  public record Numbers(String name, OfferNumbers of) {}

  /**
   * How asks fare at a stage of a route.
   *
   * @param name of the route
   * @param stage from 1
   * @param ask who is asked there, in words of a definition
   * @param medianSeconds from its opening to its being settled, half of them within; null for none
   */
  public record AtStage(
      String route,
      String name,
      int stage,
      List<String> ask,
      int open,
      @Nullable Instant oldest,
      int settled,
      @Nullable Long medianSeconds,
      int declined,
      int lapsed) {}

  /**
   * How asks fare that give something in an application.
   *
   * @param privileged how many of those that are open give something of high or critical risk there
   * @param faults operations that gave up there
   * @param seats null where they are not counted
   * @param taken how many are taken; null where they are not counted
   * @param asked for how many people something is asked there
   */
  public record InApplication(
      String application,
      String name,
      int open,
      int approved,
      int privileged,
      int faults,
      @Nullable Integer seats,
      @Nullable Integer taken,
      int asked) {}

  private final RequestMapper requests;
  private final OperationMapper operations;
  private final Seats seats;
  private final Catalogues catalogues;
  private final Clock clock;

  RequestNumbers(
      RequestMapper requests,
      OperationMapper operations,
      Seats seats,
      Catalogues catalogues,
      Clock clock) {
    this.requests = requests;
    this.operations = operations;
    this.seats = seats;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  private Instant since() {
    return clock.instant().minus(LOOKED_AT);
  }

  /** Of every offer that was asked for. */
  public List<Numbers> byOffer(Actor actor) {
    Authorization.needSomewhere(actor, Permission.SEE_REQUESTS);
    var catalogue = catalogues.current();
    var offers = catalogue.defined().all(OfferKind.class);
    return requests.numbers(since()).stream()
        .filter(each -> sees(actor, offers.get(each.offer()), catalogue))
        .map(each ->
            new Numbers(
                Optional.ofNullable(offers.get(each.offer())).map(Offer::name).orElse(each.offer()),
                each))
        .toList();
  }

  private static boolean sees(Actor actor, @Nullable Offer offer, Catalogue catalogue) {
    return actor.may(Permission.SEE_REQUESTS)
        || offer != null && RequestsSeen.sees(actor, offer.rolePackage(), List.of(), catalogue);
  }

  /** Of every stage at which something waits, or was decided. */
  public List<AtStage> byStage(Actor actor) {
    Authorization.needSomewhere(actor, Permission.SEE_REQUESTS);
    var catalogue = catalogues.current();
    var routes = catalogue.defined().all(RouteKind.class);
    var together = new LinkedHashMap<String, AtStage>();
    for (var each : requests.stageNumbers(since())) {
      if (RequestsSeen.sees(actor, each.rolePackage(), LineRuns.keys(each.selected()), catalogue)) {
        var ask =
            RouteKind.kept(JSON.readValue(each.said(), SAID), catalogue.defined()).ask().stream()
                .map(Deciders::written)
                .toList();
        together.merge(
            each.route() + "#" + each.stage() + ask,
            atStage(each, ask, routes.get(each.route())),
            RequestNumbers::sum);
      }
    }
    return List.copyOf(together.values());
  }

  private static AtStage atStage(StageNumbers each, List<String> ask, @Nullable Route route) {
    return new AtStage(
        each.route(),
        route == null ? each.route() : route.name(),
        each.stage() + 1,
        ask,
        each.open(),
        each.oldest(),
        each.settled(),
        each.medianSeconds(),
        each.declined(),
        each.lapsed());
  }

  private static AtStage sum(AtStage one, AtStage other) {
    return new AtStage(
        one.route(),
        one.name(),
        one.stage(),
        one.ask(),
        one.open() + other.open(),
        earlier(one.oldest(), other.oldest()),
        one.settled() + other.settled(),
        one.medianSeconds() == null ? other.medianSeconds() : one.medianSeconds(),
        one.declined() + other.declined(),
        one.lapsed() + other.lapsed());
  }

  private static @Nullable Instant earlier(@Nullable Instant one, @Nullable Instant other) {
    if (one == null || other == null) {
      return one == null ? other : one;
    }
    return one.isBefore(other) ? one : other;
  }

  /** Of every application in which something is asked for, stuck, or counted by seats. */
  public List<InApplication> byApplication(Actor actor) {
    Authorization.needSomewhere(actor, Permission.SEE_REQUESTS);
    var catalogue = catalogues.current();
    var seen =
        catalogue.applications().stream()
            .filter(each -> actor.may(Permission.SEE_REQUESTS, Scope.application(each.key())))
            .toList();
    var faults =
        operations.countFaults().stream()
            .collect(Collectors.toMap(ValueCount::value, ValueCount::people));
    var taken = new HashMap<String, Seats.SeatsTaken>();
    seats
        .of(seen.stream().map(Application::key).toList(), catalogue)
        .forEach(each -> taken.put(each.application(), each));
    var given = requests.givenNumbers(since());
    return seen.stream()
        .map(each ->
            inApplication(
                each, given, faults.getOrDefault(each.key(), 0), taken.get(each.key()), catalogue))
        .filter(each -> each.open() + each.approved() + each.faults() > 0 || each.seats() != null)
        .toList();
  }

  private static InApplication inApplication(
      Application application,
      List<GivenNumbers> given,
      int faults,
      Seats.@Nullable SeatsTaken taken,
      Catalogue catalogue) {
    var sums = new HashMap<String, Integer>(Map.of());
    for (var each : given) {
      var there =
          Ask.gives(each.packageKey(), LineRuns.keys(each.selected()), catalogue)
              .filter(one -> one.application().equals(application.key()))
              .toList();
      if (!there.isEmpty()) {
        sums.merge("open", each.open(), Integer::sum);
        sums.merge("approved", each.approved(), Integer::sum);
        sums.merge("asked", each.people(), Integer::sum);
        sums.merge("privileged", isPrivileged(there) ? each.open() : 0, Integer::sum);
      }
    }
    return new InApplication(
        application.key(),
        application.name(),
        sums.getOrDefault("open", 0),
        sums.getOrDefault("approved", 0),
        sums.getOrDefault("privileged", 0),
        faults,
        taken == null ? null : taken.seats(),
        taken == null ? null : taken.taken(),
        sums.getOrDefault("asked", 0));
  }

  private static boolean isPrivileged(List<Entitlement> gives) {
    return Ask.risk(gives.stream()).compareTo(Risk.HIGH) >= 0;
  }
}
