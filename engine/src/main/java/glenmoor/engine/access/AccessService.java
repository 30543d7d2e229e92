package glenmoor.engine.access;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.Why;
import glenmoor.core.authorization.Actor;
import glenmoor.core.people.Person;
import glenmoor.core.people.StandingSpan;
import glenmoor.core.provisioning.DeviationView;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.people.Standings;
import glenmoor.engine.people.Visible;
import glenmoor.engine.provisioning.CommandJson;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** What there is to see of somebody's access: accounts, the line of time, and why. */
@NullMarked
@Named
public final class AccessService {
  /** One holding of an account. */
  public record Holding(
      String entitlement,
      String name,
      String technicalName,
      boolean desired,
      boolean observed,
      @Nullable Instant observedSince) {}

  /** An account, as desired and as it was observed. */
  public record AccountShown(
      String application,
      String applicationName,
      String name,
      String container,
      String state,
      String seenState,
      @Nullable Instant unneededSince,
      Map<String, String> attributes,
      List<Holding> holdings,
      List<Deviation> deviations) {}

  /** A difference that somebody answers for. */
  public record Deviation(
      String aspect, String acceptedBy, String reason, Instant acceptedAt, Instant until) {}

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
      Entitlement entitlement,
      boolean observed,
      @Nullable Instant observedSince,
      List<Why.Path> paths) {}

  private static final int MOST_MOMENTS = 50;

  private final PersonMapper people;
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final Visible visible;
  private final Standings standings;
  private final PersonSnapshots snapshots;
  private final Catalogues catalogues;
  private final Clock clock;

  public AccessService(
      PersonMapper people,
      AccountMapper accounts,
      OperationMapper operations,
      Visible visible,
      Standings standings,
      PersonSnapshots snapshots,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.accounts = accounts;
    this.operations = operations;
    this.visible = visible;
    this.standings = standings;
    this.snapshots = snapshots;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  public List<AccountShown> accounts(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var row = visible.row(worker, actor);
    var rows = accounts.of(List.of(row.id()));
    var holdings =
        rows.isEmpty()
            ? Map.<Long, List<HoldingRow>>of()
            : accounts.holdings(rows.stream().map(AccountRow::id).toList()).stream()
                .collect(Collectors.groupingBy(HoldingRow::accountId));
    var deviations =
        operations.deviationsOf(List.of(row.id())).stream()
            .collect(Collectors.groupingBy(DeviationView::accountId));
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
                account.unneededSince(),
                CommandJson.attributesOf(account.attributes()),
                holdings.getOrDefault(account.id(), List.of()).stream()
                    .filter(holding -> holding.desired() || holding.observed())
                    .map(holding -> holding(holding, catalogue))
                    .toList(),
                deviations.getOrDefault(account.id(), List.of()).stream()
                    .map(each ->
                        new Deviation(
                            each.aspect(),
                            each.acceptedBy(),
                            each.reason(),
                            each.acceptedAt(),
                            each.untilAt()))
                    .toList()))
        .toList();
  }

  private static Holding holding(HoldingRow row, Catalogue catalogue) {
    var entitlement = catalogue.entitlements().get(row.entitlement());
    return new Holding(
        row.entitlement(),
        entitlement == null ? row.entitlement() : entitlement.plainName(),
        entitlement == null ? "" : entitlement.technicalName(),
        row.desired(),
        row.observed(),
        row.observedSince());
  }

  private PersonSnapshot snapshot(String worker, Actor actor, Catalogue catalogue) {
    return snapshots.withPast(List.of(visible.row(worker, actor)), catalogue).getFirst();
  }

  public Timeline timeline(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var snapshot = snapshot(worker, actor, catalogue);
    var lanes = new ArrayList<Lane>();
    for (var application : catalogue.applications()) {
      var bars = new ArrayList<Bar>();
      for (var grant : snapshot.grants()) {
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
    return new Timeline(clock.instant(), standings.of(visible.row(worker, actor)), lanes);
  }

  private static Bar bar(Grant grant, List<String> given, Catalogue catalogue) {
    var key = grant.target().key();
    var bundle = catalogue.packages().get(key);
    return new Bar(
        grant.id(),
        key,
        bundle == null ? String.join(", ", given) : bundle.name(),
        grant.basis().word(),
        GrantedBy.of(grant.basisKey()).map(GrantedBy::offer).orElse(grant.basisKey()),
        grant.startsAt(),
        grant.endsAt(),
        grant.endReason(),
        given);
  }

  /** Why the person has, had or will have an entitlement. */
  public WhyAnswer why(String worker, String entitlementKey, Actor actor) {
    var catalogue = catalogues.current();
    var snapshot = snapshot(worker, actor, catalogue);
    var entitlement = entitlement(entitlementKey, catalogue);
    var account =
        snapshot.accounts().stream()
            .filter(each -> each.application().equals(entitlement.application()))
            .findFirst();
    var holding =
        account.stream()
            .flatMap(each -> accounts.holdings(List.of(each.id())).stream())
            .filter(row -> row.entitlement().equals(entitlement.key()))
            .findFirst();
    return new WhyAnswer(
        entitlement,
        holding.map(HoldingRow::observed).orElse(false),
        holding.map(HoldingRow::observedSince).orElse(null),
        Why.paths(
            entitlement,
            snapshot.person(),
            snapshot.withoutRevoked(snapshot.grants(), catalogue, clock.instant()),
            account.map(each -> new Why.Holder(each.application(), each.name(), each.state())),
            catalogue,
            then(snapshot.person(), catalogue),
            clock.instant()));
  }

  /** What was known when a grant began, from the record through time. */
  private Function<Grant, Why.Then> then(Person person, Catalogue catalogue) {
    var known = new HashMap<Instant, Why.Then>();
    return grant ->
        known.computeIfAbsent(
            grant.startsAt(),
            at -> {
              var row = people.asOf(person.id().value(), at);
              if (row == null || known.size() >= MOST_MOMENTS) {
                return new Why.Then(person, catalogue);
              }
              var definitions = catalogues.asOf(at);
              return new Why.Then(FactsJson.person(row, definitions.facts()), definitions);
            });
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
}
