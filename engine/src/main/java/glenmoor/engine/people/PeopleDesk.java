package glenmoor.engine.people;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Why;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.PersonPicture;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.provisioning.OrderJson;
import glenmoor.engine.provisioning.Pictures;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonMapper.Count;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What there is to see of people: lists, one person, their access through time, and why. */
public final class PeopleDesk {
  /** One person in a list. */
  public record Listed(
      String worker,
      String name,
      String standing,
      Map<String, Object> facts,
      @Nullable LocalDate startsOn,
      @Nullable LocalDate endsOn) {}

  /** A page of a list; {@code next} is what to ask for after it, or null at the end. */
  public record PeoplePage(List<Listed> items, @Nullable String next, int total) {}

  /** One fact, for people to read. */
  public record FactShown(String key, String name, String value) {}

  /** A stretch of one standing; {@code until} is the first day after it, null while open. */
  public record StandingSpan(
      String standing, @Nullable LocalDate from, @Nullable LocalDate until) {}

  /** Everything about one person that does not depend on a question. */
  public record PersonShown(
      Listed person,
      List<FactShown> facts,
      @Nullable Listed manager,
      List<StandingSpan> standings,
      int reports) {}

  /** One holding of an account. */
  public record Holding(
      String entitlement,
      String name,
      String technicalName,
      boolean wanted,
      boolean held,
      @Nullable Instant heldSince) {}

  /** An account, as wanted and as it was seen. */
  public record AccountShown(
      String application,
      String applicationName,
      String name,
      String container,
      String state,
      String seenState,
      @Nullable Instant heldSince,
      Map<String, String> attributes,
      List<Holding> holdings) {}

  /** One bar of the access timeline. */
  public record Bar(
      long grant,
      String target,
      String name,
      String basis,
      String basisKey,
      Instant from,
      @Nullable Instant until,
      String endReason,
      List<String> entitlements) {}

  /** The bars of one application. */
  public record Lane(String application, String name, List<Bar> bars) {}

  /** A person's access through time. */
  public record Timeline(Instant today, List<StandingSpan> standings, List<Lane> lanes) {}

  /** The answer to why. */
  public record WhyAnswer(
      Entitlement entitlement, boolean held, @Nullable Instant heldSince, List<Why.Path> paths) {}

  private final PersonMapper people;
  private final AccountMapper accounts;
  private final Pictures pictures;
  private final Catalogues catalogues;
  private final Clock clock;

  public PeopleDesk(
      PersonMapper people,
      AccountMapper accounts,
      Pictures pictures,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.accounts = accounts;
    this.pictures = pictures;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** What a list asks for; {@code after} is the {@code next} of the page before. */
  public record Search(
      @Nullable String text,
      Map<String, String> facts,
      @Nullable String standing,
      @Nullable String after,
      int limit) {}

  public PeoplePage list(Search search, Actor actor) {
    var catalogue = catalogues.current();
    for (var fact : search.facts().keySet()) {
      if (!catalogue.facts().containsKey(fact)) {
        throw Refused.badInput("There is no fact “%s” to filter by.".formatted(fact));
      }
    }
    var after = search.after();
    var last = after == null ? null : rowOf(after);
    var limits = Allow.seesEverybody(actor) ? null : own(actor);
    var query =
        new PersonSearch(
            search.text(),
            search.facts(),
            search.standing(),
            today(catalogue),
            limits,
            last == null ? null : last.name(),
            last == null ? null : last.id(),
            search.limit() + 1);
    var rows = people.search(query);
    var more = rows.size() > search.limit();
    var page = more ? rows.subList(0, search.limit()) : rows;
    return new PeoplePage(
        page.stream().map(row -> listed(row, catalogue)).toList(),
        more ? page.getLast().workerNumber() : null,
        people.count(query));
  }

  private static String own(Actor actor) {
    var worker = actor.worker();
    return worker == null ? "" : worker;
  }

  private LocalDate today(Catalogue catalogue) {
    return clock.instant().atZone(catalogue.zone()).toLocalDate();
  }

  private PersonRow rowOf(String worker) {
    var row = people.byWorker(worker);
    if (row == null) {
      throw Refused.notThere("Nobody has the worker number " + worker + ".");
    }
    return row;
  }

  /** The row of somebody whom the actor may see. */
  private PersonRow visible(String worker, Actor actor) {
    var row = rowOf(worker);
    var own = own(actor);
    var facts = FactsJson.read(row.facts(), catalogues.current().facts());
    if (!Allow.seesEverybody(actor)
        && !row.workerNumber().equals(own)
        && !facts.text(Facts.MANAGER).equals(own)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "You see yourself and the people who report to you; %s is neither.".formatted(worker));
    }
    return row;
  }

  private Listed listed(PersonRow row, Catalogue catalogue) {
    var person = FactsJson.person(row, catalogue.facts());
    var facts = new HashMap<String, Object>(person.facts().values());
    facts.replaceAll((key, value) -> value instanceof LocalDate date ? date.toString() : value);
    return new Listed(
        row.workerNumber(),
        row.name(),
        Standing.of(person, today(catalogue)).word(),
        facts,
        row.startsOn(),
        row.endsOn());
  }

  public PersonShown show(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var row = visible(worker, actor);
    var person = FactsJson.person(row, catalogue.facts());
    var manager = person.facts().text(Facts.MANAGER);
    var managerRow = manager.isEmpty() ? null : people.byWorker(manager);
    var facts =
        catalogue.facts().values().stream()
            .map(fact -> new FactShown(fact.key(), fact.name(), person.facts().text(fact.key())))
            .filter(fact -> !fact.value().isEmpty())
            .toList();
    var reports =
        people.count(
            new PersonSearch(
                null, Map.of(Facts.MANAGER, worker), null, today(catalogue), null, null, null, 1));
    return new PersonShown(
        listed(row, catalogue),
        facts,
        managerRow == null ? null : listed(managerRow, catalogue),
        standings(person, today(catalogue)),
        catalogue.facts().containsKey(Facts.MANAGER) ? reports : 0);
  }

  /** The stretches that follow from the dates that are known now, oldest first. */
  private static List<StandingSpan> standings(Person person, LocalDate today) {
    var from = person.facts().date(Facts.START).orElse(today);
    var spans = new ArrayList<StandingSpan>();
    var day = from.isAfter(today) ? today : from;
    var since = day;
    var standing = Standing.of(person, day);
    while (true) {
      var next = Standing.nextChange(person, day);
      if (next.isEmpty()) {
        spans.add(new StandingSpan(standing.word(), since, null));
        return spans;
      }
      day = next.get();
      var then = Standing.of(person, day);
      if (then != standing) {
        spans.add(new StandingSpan(standing.word(), since, day));
        since = day;
        standing = then;
      }
    }
  }

  public List<AccountShown> accounts(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var row = visible(worker, actor);
    var rows = accounts.of(List.of(row.id()));
    var holdings =
        rows.isEmpty()
            ? Map.<Long, List<HoldingRow>>of()
            : accounts.holdings(rows.stream().map(AccountRow::id).toList()).stream()
                .collect(Collectors.groupingBy(HoldingRow::accountId));
    var names = new HashMap<String, String>();
    catalogue.applications().forEach(each -> names.put(each.key(), each.name()));
    return rows.stream()
        .map(account ->
            new AccountShown(
                account.application(),
                names.getOrDefault(account.application(), account.application()),
                account.name(),
                account.container(),
                account.state(),
                account.seenState(),
                account.heldSince(),
                OrderJson.attributesOf(account.attributes()),
                holdings.getOrDefault(account.id(), List.of()).stream()
                    .filter(holding -> holding.wanted() || holding.held())
                    .map(holding -> holding(holding, catalogue))
                    .toList()))
        .toList();
  }

  private static Holding holding(HoldingRow row, Catalogue catalogue) {
    var entitlement = catalogue.entitlements().get(row.entitlement());
    return new Holding(
        row.entitlement(),
        entitlement == null ? row.entitlement() : entitlement.plainName(),
        entitlement == null ? "" : entitlement.technicalName(),
        row.wanted(),
        row.held(),
        row.heldSince());
  }

  private PersonPicture picture(String worker, Actor actor, Catalogue catalogue) {
    return pictures.of(List.of(visible(worker, actor)), catalogue).getFirst();
  }

  public Timeline timeline(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var picture = picture(worker, actor, catalogue);
    var lanes = new ArrayList<Lane>();
    for (var application : catalogue.applications()) {
      var bars = new ArrayList<Bar>();
      for (var grant : picture.grants()) {
        var given =
            catalogue
                .given(grant.target())
                .filter(each -> each.application().equals(application.key()))
                .map(Entitlement::plainName)
                .toList();
        if (!given.isEmpty()) {
          bars.add(bar(grant, given, catalogue));
        }
      }
      if (!bars.isEmpty()) {
        bars.sort(Comparator.comparing(Bar::from).thenComparing(Bar::name));
        lanes.add(new Lane(application.key(), application.name(), bars));
      }
    }
    return new Timeline(clock.instant(), standings(picture.person(), today(catalogue)), lanes);
  }

  private static Bar bar(Grant grant, List<String> given, Catalogue catalogue) {
    var key = grant.target().key();
    var held = catalogue.packages().get(key);
    return new Bar(
        grant.id(),
        key,
        held == null ? String.join(", ", given) : held.name(),
        grant.basis().word(),
        grant.basisKey(),
        grant.startsAt(),
        grant.endsAt(),
        grant.endReason(),
        given);
  }

  /** Why the person has, had or will have an entitlement. */
  public WhyAnswer why(String worker, String entitlementKey, Actor actor) {
    var catalogue = catalogues.current();
    var picture = picture(worker, actor, catalogue);
    var entitlement = entitlement(entitlementKey, catalogue);
    var account =
        picture.accounts().stream()
            .filter(each -> each.application().equals(entitlement.application()))
            .findFirst();
    var holding =
        account.stream()
            .flatMap(each -> accounts.holdings(List.of(each.id())).stream())
            .filter(row -> row.entitlement().equals(entitlement.key()))
            .findFirst();
    return new WhyAnswer(
        entitlement,
        holding.map(HoldingRow::held).orElse(false),
        holding.map(HoldingRow::heldSince).orElse(null),
        Why.paths(
            entitlement, picture.person(), picture.grants(), account, catalogue, clock.instant()));
  }

  private static Entitlement entitlement(String key, Catalogue catalogue) {
    var exact = catalogue.entitlements().get(key);
    if (exact != null) {
      return exact;
    }
    var alike =
        catalogue.entitlements().values().stream()
            .filter(each ->
                each.technicalName().equalsIgnoreCase(key)
                    || each.plainName().equalsIgnoreCase(key))
            .toList();
    if (alike.size() == 1) {
      return alike.getFirst();
    }
    throw Refused.notThere(
        alike.isEmpty()
            ? "There is no entitlement “%s”; glenmoor people show lists those a person has."
                .formatted(key)
            : "“%s” may be %s; say which."
                .formatted(
                    key, alike.stream().map(Entitlement::key).collect(Collectors.joining(" or "))));
  }

  /** The values a fact has among people who have not left, with how many have each. */
  public List<Count> values(String fact, Actor actor) {
    if (!Allow.seesEverybody(actor)) {
      return List.of();
    }
    var catalogue = catalogues.current();
    if (!catalogue.facts().containsKey(fact)) {
      throw Refused.notThere("There is no fact “%s”.".formatted(fact));
    }
    return people.values(fact, today(catalogue));
  }
}
