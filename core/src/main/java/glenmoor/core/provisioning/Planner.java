package glenmoor.core.provisioning;

import glenmoor.core.access.Birthrights;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.DesiredAccess;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Revocation;
import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import glenmoor.core.requests.GivenGrants;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * The one computation: what a person should have now, compared with what their accounts will be
 * once the queue is done, gives the operations still missing.
 *
 * <p>The comparison is against the future of the queue, not its present, so planning may happen as
 * often as it likes. Leaving shuts the account before it empties it; joining fills it after it is
 * made; moving takes away before it gives, so that nobody holds both sides of a move for a moment.
 */
public final class Planner {
  private final Catalogue catalogue;
  private final AccountNames names;
  private final Instant now;

  public Planner(Catalogue catalogue, AccountNames names, Instant now) {
    this.catalogue = catalogue;
    this.names = names;
    this.now = now;
  }

  /**
   * The base names that planning for these people will ask numbers for, by application: so that
   * they can be looked up together. A name that builds on another one is taken as if that had no
   * number; where it has one, the number is asked for by itself later.
   */
  public static Map<String, Set<String>> baseNames(
      Collection<PersonSnapshot> snapshots, Catalogue catalogue) {
    var bases = new HashMap<String, Set<String>>();
    for (var snapshot : snapshots) {
      var names = new HashMap<String, String>();
      snapshot.accounts().forEach(account -> names.put(account.application(), account.name()));
      var view = catalogue.expressions().view(snapshot.person());
      for (var application : catalogue.applications()) {
        if (!names.containsKey(application.key()) || application.renames()) {
          try {
            var base = baseName(application, view, names);
            names.putIfAbsent(application.key(), base);
            bases.computeIfAbsent(application.key(), key -> new HashSet<>()).add(base);
          } catch (Unanswerable later) {
            // Planning meets it again, and says so then.
            continue;
          }
        }
      }
    }
    return bases;
  }

  /**
   * What a person's account in an application would be called, before numbering.
   *
   * @throws Unanswerable if that cannot be told
   */
  public static String baseName(
      Application application, PersonSnapshot snapshot, Catalogue catalogue) {
    var names = new HashMap<String, String>();
    snapshot.accounts().forEach(account -> names.put(account.application(), account.name()));
    return baseName(application, catalogue.expressions().view(snapshot.person()), names);
  }

  /** What an account would be called by its mapping; the worker number where that gives nothing. */
  static String baseName(
      Application application, Map<String, Object> view, Map<String, String> accountNames) {
    return application
        .accountName()
        .value(view, accountNames, "")
        .orElseGet(() -> String.valueOf(view.get("person.worker")).toLowerCase(Locale.ROOT));
  }

  /**
   * How a person's accounts would be called, if they had one in every application: the name, or the
   * sentence that says why it cannot be made.
   */
  public Map<String, String> tryNames(Person person) {
    var said = new LinkedHashMap<String, String>();
    var accountNames = new HashMap<String, String>();
    var view = catalogue.expressions().view(person);
    for (var application : catalogue.applications()) {
      try {
        var name = names.next(application, baseName(application, view, accountNames)).name();
        accountNames.put(application.key(), name);
        said.put(application.key(), name);
      } catch (Unanswerable unmade) {
        said.put(application.key(), String.valueOf(unmade.getMessage()));
      }
    }
    return said;
  }

  /** Plans for one person. */
  public PersonPlan plan(PersonSnapshot snapshot) {
    var person = snapshot.person();
    var changes = Birthrights.decide(person, snapshot.grants(), catalogue, now);
    var troubles = new ArrayList<>(changes.troubles());
    var amended = new ArrayList<>(changes.amend());
    amended.addAll(GivenGrants.ended(person, snapshot.grants(), catalogue, now));
    var revoked = revoked(snapshot, amended);
    amended.removeIf(each -> revoked.stream().anyMatch(ended -> ended.grant().id() == each.id()));
    revoked.forEach(ended -> amended.add(ended.grant()));
    var given = Grant.after(snapshot.grants(), amended, changes.begin());
    var grants = snapshot.withoutRevoked(given, catalogue, now);
    var causes = new Causes(snapshot, given, grants, catalogue, now);
    var over = snapshot.deviations().stream().filter(each -> each.over(now)).toList();
    var known = new HashMap<String, Account>();
    snapshot
        .accounts()
        .forEach(account -> known.put(account.application(), lookedAtAgain(account, over)));
    var accountNames = new HashMap<String, String>();
    known.values().forEach(account -> accountNames.put(account.application(), account.name()));
    var view = catalogue.expressions().view(person);
    var plans = new ArrayList<AccountPlan>();
    var accountsAfter = new ArrayList<>(known.values());
    for (var application : catalogue.applications()) {
      var account = known.get(application.key());
      var there = account != null && account.state() != AccountState.NONE;
      var desired = DesiredAccess.of(application, person, grants, there, catalogue, now);
      if (snapshot.ordered(application.key(), AccountOrder.Kind.DISABLE).isPresent()) {
        desired = desired.disabled();
      }
      var step =
          new AccountStep(
              catalogue, names, now, application, desired, account, view, accountNames, troubles);
      var plan = step.plan(snapshot);
      if (plan != null) {
        accountNames.put(application.key(), plan.after().name());
        plan.before().ifPresent(accountsAfter::remove);
        accountsAfter.add(plan.after());
        if (plan.before().filter(plan.after()::equals).isEmpty() || !plan.commands().isEmpty()) {
          plans.add(plan.because(causes.of(plan)));
        }
      }
    }
    var ended = new ArrayList<>(over);
    snapshot.deviations().stream()
        .filter(each -> !each.over(now) && changed(each, plans))
        .forEach(ended::add);
    var today = now.atZone(catalogue.zone()).toLocalDate();
    return new PersonPlan(
        person,
        Standing.of(person, today),
        changes.begin(),
        amended,
        revoked.stream()
            .collect(Collectors.toMap(each -> each.grant().id(), each -> each.by().id())),
        plans,
        ended,
        troubles,
        conflicts(snapshot.accounts(), accountsAfter),
        nextDue(snapshot, grants, accountsAfter));
  }

  /** Stored grants that end because all they give is revoked, and that do not end now already. */
  private List<Revocation.Ended> revoked(PersonSnapshot snapshot, List<Grant> amended) {
    var over =
        amended.stream().filter(each -> each.over(now)).map(Grant::id).collect(Collectors.toSet());
    return Revocation.ended(snapshot.grants(), snapshot.revocations(), catalogue, now).stream()
        .filter(each -> !over.contains(each.grant().id()))
        .toList();
  }

  private List<String> conflicts(List<Account> before, List<Account> after) {
    var rules = catalogue.defined().all(ConflictRuleKind.class).values();
    if (rules.isEmpty()) {
      return List.of();
    }
    var held = held(before);
    var more = held(after);
    // Who gains nothing breaks nothing more.
    return held.containsAll(more)
        ? List.of()
        : rules.stream()
            .filter(rule -> rule.isBroken(more) && !rule.isBroken(held))
            .map(ConflictRule::key)
            .toList();
  }

  private static Set<String> held(List<Account> accounts) {
    return accounts.stream()
        .flatMap(account -> account.entitlements().stream())
        .collect(Collectors.toSet());
  }

  /** An account of which a deviation ran out is planned as it was seen. */
  private static Account lookedAtAgain(Account account, List<AcceptedDeviation> over) {
    var again = account;
    for (var deviation : over) {
      if (deviation.account() == account.id()) {
        again = again.asSeen(deviation.aspect());
      }
    }
    return again;
  }

  private static boolean changed(AcceptedDeviation deviation, List<AccountPlan> plans) {
    return plans.stream()
        .filter(plan -> plan.after().id() == deviation.account())
        .flatMap(plan -> plan.commands().stream())
        .map(ProvisioningCommand::aspect)
        .anyMatch(aspect ->
            aspect.equals(deviation.aspect())
                || aspect.equals(ProvisioningCommand.WHOLE)
                || deviation.aspect().equals(ProvisioningCommand.WHOLE));
  }

  private Optional<Instant> nextDue(
      PersonSnapshot snapshot, List<Grant> grants, List<Account> accounts) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var dates =
        Stream.concat(
            Standing.nextChange(snapshot.person(), today).stream(),
            snapshot.person().facts().date(Facts.START).stream()
                .flatMap(start ->
                    catalogue.applications().stream()
                        .map(application ->
                            start.minusDays(application.lifecycle().readyDaysAhead()))));
    var grantMoments =
        grants.stream()
            .flatMap(grant ->
                Stream.of(grant.startsAt(), Objects.requireNonNullElse(grant.endsAt(), now)));
    var holds =
        accounts.stream()
            .filter(account -> account.state() == AccountState.DISABLED)
            .flatMap(account -> deletion(account).stream());
    var deviations = snapshot.deviations().stream().map(AcceptedDeviation::until);
    return Stream.of(
            dates.map(date -> date.atStartOfDay(catalogue.zone()).toInstant()),
            grantMoments,
            holds,
            deviations,
            Revocation.turns(snapshot.revocations()))
        .flatMap(moments -> moments)
        .filter(moment -> moment.isAfter(now))
        .min(Instant::compareTo);
  }

  private Optional<Instant> deletion(Account account) {
    var unneededSince = account.unneededSince();
    return catalogue.applications().stream()
        .filter(application -> application.key().equals(account.application()))
        .filter(application -> application.lifecycle().afterHold() == AfterHold.DELETE)
        .filter(application -> unneededSince != null)
        .map(application ->
            CalendarDays.after(
                Objects.requireNonNull(unneededSince),
                application.lifecycle().hold(),
                catalogue.zone()))
        .findFirst();
  }
}
