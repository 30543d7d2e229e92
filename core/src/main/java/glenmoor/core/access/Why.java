package glenmoor.core.access;

import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.NullMarked;

/** Why a person has, or has had, an entitlement: each way from their facts to the right. */
@NullMarked
public final class Why {
  /**
   * One link of a path, read left to right.
   *
   * @param kind what it is: fact, birthright, request, direct, package, entitlement, account
   * @param text what people read
   * @param detail the technical part, or empty
   */
  public record Link(String kind, String text, String detail) {}

  /**
   * One way.
   *
   * @param inForce whether it counts at the moment asked about
   * @param sentence what the whole comes to
   */
  public record Path(long grant, boolean inForce, String sentence, List<Link> links) {}

  private static final DateTimeFormatter DAY =
      DateTimeFormatter.ofPattern("d MMM yyyy", Locale.ENGLISH);

  private Why() {}

  /** The account at the end of a path. */
  public record Holder(String application, String name, AccountState state) {}

  /** The facts and definitions that a grant began by. */
  public record Then(Person person, Catalogue catalogue) {}

  /**
   * All the ways in which grants give the entitlement, those in force first.
   *
   * @param then what was known when a grant began; asked for those that have an end, because facts
   *     and definitions may be others by now
   */
  public static List<Path> paths(
      Entitlement entitlement,
      Person person,
      List<Grant> grants,
      Optional<Holder> account,
      Catalogue catalogue,
      Function<Grant, Then> then,
      Instant now) {
    var standing = Standing.of(person, now.atZone(catalogue.zone()).toLocalDate());
    var paths = new ArrayList<Path>();
    for (var grant : grants) {
      var by = grant.endsAt() == null ? new Then(person, catalogue) : then.apply(grant);
      var gives =
          by.catalogue()
              .given(grant.target())
              .anyMatch(given -> given.key().equals(entitlement.key()));
      if (gives) {
        paths.add(path(grant, entitlement, by.person(), standing, account, by.catalogue(), now));
      }
    }
    paths.sort((a, b) -> Boolean.compare(b.inForce(), a.inForce()));
    return paths;
  }

  private static Path path(
      Grant grant,
      Entitlement entitlement,
      Person person,
      Standing standing,
      Optional<Holder> account,
      Catalogue catalogue,
      Instant now) {
    var carved = grant.without().contains(entitlement.key());
    var links = new ArrayList<Link>();
    links.add(new Link("standing", standing.word(), ""));
    if (grant.basis() == Grant.Basis.BIRTHRIGHT) {
      catalogue.birthrights().stream()
          .filter(birthright -> birthright.key().equals(grant.basisKey()))
          .forEach(birthright -> rule(birthright, person, catalogue, links));
    } else {
      links.add(basis(grant));
    }
    if (grant.target() instanceof Grant.Target.OfPackage bundle) {
      var known = catalogue.packages().get(bundle.key());
      links.add(new Link("package", known == null ? bundle.key() : known.name(), bundle.key()));
    }
    links.add(new Link("entitlement", entitlement.plainName(), entitlement.technicalName()));
    account
        .filter(holder -> holder.state() != AccountState.NONE)
        .ifPresent(holder ->
            links.add(
                new Link(
                    "account",
                    holder.name() + " in " + applicationName(holder, catalogue),
                    holder.state().word())));
    return new Path(
        grant.id(),
        grant.inForce(now) && !carved,
        carved ? "revoked: what else it gives is kept" : sentence(grant, standing, catalogue, now),
        List.copyOf(links));
  }

  private static Link basis(Grant grant) {
    return GrantedBy.of(grant.basisKey())
        .map(by ->
            grant.basis() == Grant.Basis.DIRECT
                ? new Link("direct", "given directly by the offer " + by.offer(), by.offer())
                : new Link("request", "asked for by the offer " + by.offer(), "line " + by.line()))
        .orElse(new Link(grant.basis().word(), grant.basis().word(), grant.basisKey()));
  }

  private static String applicationName(Holder account, Catalogue catalogue) {
    return catalogue.applications().stream()
        .filter(each -> each.key().equals(account.application()))
        .map(Application::name)
        .findFirst()
        .orElse(account.application());
  }

  private static String active(Grant grant, Catalogue catalogue) {
    var endsAt = grant.endsAt();
    return endsAt == null
        ? "in force"
        : "in force until %s%s"
            .formatted(
                DAY.format(endsAt.atZone(catalogue.zone())),
                grant.endReason().isEmpty() ? "" : ": " + grant.endReason());
  }

  private static void rule(
      Birthright birthright, Person person, Catalogue catalogue, List<Link> links) {
    for (var fact : birthright.where().factsNamed()) {
      var defined = catalogue.facts().get(fact);
      var value = person.facts().text(fact);
      links.add(
          new Link(
              "fact",
              (defined == null ? fact : defined.name()) + ": " + (value.isEmpty() ? "none" : value),
              "person." + fact));
    }
    links.add(new Link("birthright", birthright.key(), birthright.where().text()));
  }

  private static String sentence(Grant grant, Standing standing, Catalogue catalogue, Instant now) {
    if (grant.over(now)) {
      return "ended: " + grant.endReason();
    }
    if (!grant.inForce(now)) {
      return "begins later";
    }
    return switch (standing) {
      case ACTIVE -> active(grant, catalogue);
      case ON_LEAVE -> "in force, suspended while on leave";
      case EXPECTED -> "in force once they start";
      case LEFT, ERASED -> "in force until planned again";
    };
  }
}
