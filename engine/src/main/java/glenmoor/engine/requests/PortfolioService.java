package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Portfolio;
import glenmoor.core.access.PortfolioKind;
import glenmoor.core.access.Retirement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.RouteKind;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What is in portfolios, for those who look after them; of another one nobody learns. */
@Named
public final class PortfolioService {
  /**
   * A portfolio in a list.
   *
   * @param stewards who looks after it, by name
   */
  public record PortfolioListed(
      String key, String name, int entitlements, int packages, List<Who> stewards) {}

  /**
   * An offer of a package.
   *
   * @param reviewedBy who looks from time to time through what it gave; empty for nobody
   * @param nextReview when that begins next; null where it is not by the calendar
   */
  public record OfferOf(
      String key,
      String name,
      boolean open,
      boolean direct,
      String audience,
      String route,
      String term,
      String reviewedBy,
      @Nullable Instant nextReview) {}

  /**
   * A package of a portfolio.
   *
   * @param holders how many people have it, or will
   * @param retired what becomes of what they have once it is given to nobody any more; empty while
   *     it is
   */
  public record PackageOf(
      String key,
      String name,
      String purpose,
      List<String> tags,
      List<Gives> gives,
      int holders,
      String retired,
      List<OfferOf> offers) {}

  /**
   * A portfolio.
   *
   * @param tends whether the actor may choose what is in it
   * @param builds whether the actor may build packages of it
   * @param gives whether the actor may give its offers directly, where they allow that
   */
  public record PortfolioShown(
      String key,
      String name,
      List<Who> stewards,
      List<Who> bundlers,
      List<Gives> entitlements,
      List<PackageOf> packages,
      boolean tends,
      boolean builds,
      boolean gives) {}

  private final GrantMapper grants;
  private final DutyMapper duties;
  private final PersonMapper people;
  private final Catalogues catalogues;
  private final Clock clock;

  PortfolioService(
      GrantMapper grants,
      DutyMapper duties,
      PersonMapper people,
      Catalogues catalogues,
      Clock clock) {
    this.grants = grants;
    this.duties = duties;
    this.people = people;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** Those that the actor may see. */
  public List<PortfolioListed> list(Actor actor) {
    var catalogue = catalogues.current();
    var stewards =
        duties.scopedHolders(Duty.STEWARD.word(), Scope.Kind.PORTFOLIO.word(), today(catalogue));
    return catalogue.defined().all(PortfolioKind.class).values().stream()
        .filter(each -> actor.may(Permission.SEE_PORTFOLIOS, Scope.portfolio(each.key())))
        .map(each ->
            new PortfolioListed(
                each.key(),
                each.name(),
                each.entitlements().size(),
                (int) packages(each.key(), catalogue).count(),
                stewards.stream()
                    .filter(held -> held.scopeKey().equals(each.key()))
                    .map(held -> new Who(held.workerNumber(), held.name()))
                    .toList()))
        .toList();
  }

  private LocalDate today(Catalogue catalogue) {
    return clock.instant().atZone(catalogue.zone()).toLocalDate();
  }

  private static Stream<RolePackage> packages(String portfolio, Catalogue catalogue) {
    return catalogue.packages().values().stream()
        .filter(each -> each.portfolio().equals(portfolio));
  }

  /**
   * A package in a list.
   *
   * @param portfolio the one it is made of; empty for none
   */
  public record PackageListed(String portfolio, PackageOf rolePackage) {}

  /** Packages of the portfolios that the actor looks after; all there are, for who sees all. */
  public List<PackageListed> packages(Actor actor) {
    var catalogue = catalogues.current();
    var seen =
        catalogue.packages().values().stream()
            .filter(each ->
                actor.may(Permission.SEE_PORTFOLIOS)
                    || !each.portfolio().isEmpty()
                        && actor.may(Permission.SEE_PORTFOLIOS, Scope.portfolio(each.portfolio())))
            .sorted(Comparator.comparing(RolePackage::key))
            .toList();
    var holders = holders(seen);
    return seen.stream()
        .map(each -> new PackageListed(each.portfolio(), shown(each, holders, catalogue)))
        .toList();
  }

  /**
   * One of them.
   *
   * @throws Refused as if there were none where the actor may not see it
   */
  public PackageListed onePackage(String key, Actor actor) {
    return packages(actor).stream()
        .filter(each -> each.rolePackage().key().equals(key))
        .findFirst()
        .orElseThrow(
            () -> Refused.notThere("There is no package “%s” that you look after.".formatted(key)));
  }

  private Map<String, Integer> holders(List<RolePackage> packages) {
    var holders = new HashMap<String, Integer>();
    if (!packages.isEmpty()) {
      grants
          .holders(packages.stream().map(RolePackage::key).toList(), clock.instant())
          .forEach(each -> holders.put(each.value(), each.people()));
    }
    return holders;
  }

  /**
   * One of them.
   *
   * @throws Refused as if there were none where the actor may not see it
   */
  public PortfolioShown show(String key, Actor actor) {
    var catalogue = catalogues.current();
    Optional<Portfolio> found =
        Optional.ofNullable(catalogue.defined().all(PortfolioKind.class).get(key))
            .filter(each -> actor.may(Permission.SEE_PORTFOLIOS, Scope.portfolio(each.key())));
    var portfolio =
        found.orElseThrow(() ->
            Refused.notThere("There is no portfolio “%s” that you look after.".formatted(key)));
    var today = today(catalogue);
    var built = packages(key, catalogue).toList();
    var holders = holders(built);
    return new PortfolioShown(
        key,
        portfolio.name(),
        holding(Duty.STEWARD, key, today),
        holding(Duty.BUNDLER, key, today),
        gives(portfolio.entitlements(), catalogue),
        built.stream().map(each -> shown(each, holders, catalogue)).toList(),
        actor.may(Permission.TEND_PORTFOLIOS, Scope.portfolio(key))
            || actor.may(Permission.LOAD_DEFINITIONS),
        actor.may(Permission.BUNDLE, Scope.portfolio(key))
            || actor.may(Permission.LOAD_DEFINITIONS),
        actor.may(Permission.GIVE_DIRECTLY, Scope.portfolio(key)));
  }

  private List<Who> holding(Duty duty, String key, LocalDate today) {
    var ids = duties.holders(duty.word(), Scope.Kind.PORTFOLIO.word(), key, today);
    return ids.isEmpty()
        ? List.of()
        : people.byIds(ids).stream().map(row -> new Who(row.workerNumber(), row.name())).toList();
  }

  private static List<Gives> gives(List<String> keys, Catalogue catalogue) {
    return keys.stream()
        .flatMap(key -> Stream.ofNullable(catalogue.entitlements().get(key)))
        .map(each -> Gives.of(each, catalogue))
        .toList();
  }

  private PackageOf shown(RolePackage each, Map<String, Integer> holders, Catalogue catalogue) {
    return new PackageOf(
        each.key(),
        each.name(),
        each.purpose(),
        each.tags(),
        gives(each.entitlements(), catalogue),
        holders.getOrDefault(each.key(), 0),
        each.retired().map(Retirement::written).orElse(""),
        catalogue.defined().all(OfferKind.class).values().stream()
            .filter(offer -> offer.rolePackage().equals(each.key()))
            .map(offer -> shown(offer, catalogue))
            .toList());
  }

  private OfferOf shown(Offer offer, Catalogue catalogue) {
    var route = catalogue.defined().all(RouteKind.class).get(offer.route());
    return new OfferOf(
        offer.key(),
        offer.name(),
        offer.open(),
        offer.direct(),
        offer.audience().map(Condition::text).orElse(""),
        route == null ? offer.route() : route.name(),
        offer.term().written(),
        offer.review().map(review -> review.reviewers().words()).orElse(""),
        offer
            .review()
            .flatMap(Campaign::rhythm)
            .flatMap(at -> at.next(clock.instant(), catalogue.zone()))
            .orElse(null));
  }
}
