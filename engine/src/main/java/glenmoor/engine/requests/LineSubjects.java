package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.TeamShare;
import glenmoor.engine.requests.RequestViews.LastUsed;
import glenmoor.engine.requests.RequestViews.SaidOf;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.usage.UsageMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** What those who decide on a line have to know of the person whom it is for. */
@Named
final class LineSubjects {
  private final GrantMapper grants;
  private final AccountMapper accounts;
  private final UsageMapper usage;
  private final RequestMapper requests;
  private final Clock clock;

  LineSubjects(
      GrantMapper grants,
      AccountMapper accounts,
      UsageMapper usage,
      RequestMapper requests,
      Clock clock) {
    this.grants = grants;
    this.accounts = accounts;
    this.usage = usage;
    this.requests = requests;
    this.clock = clock;
  }

  /** What the record says of somebody who is not here yet. */
  List<SaidOf> saidOf(PersonRow subject, Catalogue catalogue) {
    var person = FactsJson.person(subject, catalogue.facts());
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    return Standing.of(person, today) == Standing.EXPECTED
        ? catalogue.facts().values().stream()
            .filter(fact -> !fact.key().equals(Facts.START))
            .map(fact -> new SaidOf(fact.name(), person.facts().text(fact.key())))
            .filter(said -> !said.value().isEmpty())
            .toList()
        : List.of();
  }

  /** The names of the packages that somebody has. */
  List<String> holds(PersonRow subject, Catalogue catalogue) {
    return grants.lasting(List.of(subject.id()), clock.instant()).stream()
        .filter(grant -> grant.targetKind().equals("package"))
        .flatMap(grant -> Stream.ofNullable(catalogue.packages().get(grant.targetKey())))
        .map(RolePackage::name)
        .distinct()
        .sorted()
        .toList();
  }

  /** How many of those with the same manager have a package. */
  TeamShare team(PersonRow subject, String rolePackage, Catalogue catalogue) {
    var manager =
        WorkerNumber.key(FactsJson.read(subject.facts(), catalogue.facts()).text(Facts.MANAGER));
    var now = clock.instant();
    return manager.isEmpty()
        ? new TeamShare(0, 0)
        : requests.team(
            manager, subject.id(), rolePackage, now, now.atZone(catalogue.zone()).toLocalDate());
  }

  /**
   * When what a line gives was last used by whom it is for, and where no use of a right is told,
   * their account in its application; nothing of what they do not have or nobody tells of.
   */
  List<LastUsed> used(PersonRow subject, List<Entitlement> gives, Catalogue catalogue) {
    var owned = new HashMap<String, Long>();
    accounts.of(List.of(subject.id())).forEach(each -> owned.put(each.application(), each.id()));
    if (owned.isEmpty()) {
      return List.of();
    }
    var told = new HashMap<Long, Map<String, Instant>>();
    usage
        .of(owned.values())
        .forEach(each ->
            told.computeIfAbsent(each.accountId(), none -> new HashMap<>())
                .put(each.entitlement(), each.lastUsed()));
    var used = new ArrayList<LastUsed>();
    var accountsSaid = new HashSet<String>();
    for (var right : gives) {
      var account = owned.get(right.application());
      var uses = account == null ? Map.<String, Instant>of() : told.getOrDefault(account, Map.of());
      var ofRight = uses.get(right.key());
      var ofAccount = uses.get("");
      if (ofRight != null) {
        used.add(new LastUsed(right.plainName(), ofRight));
      } else if (ofAccount != null && accountsSaid.add(right.application())) {
        used.add(
            new LastUsed(
                "account in " + catalogue.application(right.application()).name(), ofAccount));
      }
    }
    return used;
  }
}
