package glenmoor.core.provisioning;

import glenmoor.core.access.Birthrights;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.DesiredAccess;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import java.time.Duration;
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
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

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

  /** What an account would be called by its mapping; the worker number where that gives nothing. */
  private static String baseName(
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
    var grants = grantsAfter(snapshot.grants(), changes);
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
      var desired = DesiredAccess.of(application, person, grants, catalogue, now);
      var account = known.get(application.key());
      var step = new Step(application, desired, account, view, accountNames, troubles);
      var plan = step.plan(snapshot);
      if (plan != null) {
        accountNames.put(application.key(), plan.after().name());
        plan.before().ifPresent(accountsAfter::remove);
        accountsAfter.add(plan.after());
        if (plan.before().filter(plan.after()::equals).isEmpty() || !plan.commands().isEmpty()) {
          plans.add(plan);
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
        changes.amend(),
        plans,
        ended,
        troubles,
        nextDue(snapshot, grants, accountsAfter));
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

  private static List<Grant> grantsAfter(List<Grant> before, Birthrights.Changes changes) {
    var byId = new TreeMap<Long, Grant>();
    before.forEach(grant -> byId.put(grant.id(), grant));
    changes.amend().forEach(grant -> byId.put(grant.id(), grant));
    return Stream.concat(byId.values().stream(), changes.begin().stream()).toList();
  }

  /** One application's part for one person. */
  private final class Step {
    private final Application application;
    private final DesiredAccess desired;
    private final @Nullable Account known;
    private final Map<String, Object> view;
    private final Map<String, String> accountNames;
    private final List<Trouble> troubles;
    private final List<ProvisioningCommand> commands = new ArrayList<>();

    Step(
        Application application,
        DesiredAccess desired,
        @Nullable Account known,
        Map<String, Object> view,
        Map<String, String> accountNames,
        List<Trouble> troubles) {
      this.troubles = troubles;
      this.application = application;
      this.desired = desired;
      this.known = known;
      this.view = view;
      this.accountNames = accountNames;
    }

    /** What to do, or null where there is nothing and shall be nothing. */
    @Nullable AccountPlan plan(PersonSnapshot snapshot) {
      var there = known != null && known.state() != AccountState.NONE;
      if (desired.account() == AccountState.NONE) {
        return known != null && there ? unneeded(known) : null;
      }
      try {
        if (known == null || !there) {
          return made(snapshot);
        }
        return known.unmade() ? remade(known) : adjusted(known);
      } catch (Unanswerable unmade) {
        trouble("account name", unmade);
        return null;
      }
    }

    private AccountPlan made(PersonSnapshot snapshot) {
      var name = newName();
      var container = container(name.name());
      var attributes = attributes(name.name(), new TreeMap<>());
      commands.add(
          new ProvisioningCommand.Create(name.name(), container, attributes, desired.account()));
      desired.entitlements().forEach(this::add);
      var after =
          new Account(
              known == null ? 0 : known.id(),
              snapshot.person().id(),
              application.key(),
              name.baseName(),
              name.number(),
              name.name(),
              container,
              attributes,
              desired.account(),
              desired.entitlements(),
              null,
              (known == null ? 1 : known.nextSequence()) + commands.size(),
              false,
              known == null ? Account.Seen.NOTHING : known.seen());
      return new AccountPlan(Optional.ofNullable(known), after, commands);
    }

    private AccountNames.Allotted newName() {
      var baseName = baseName();
      return known != null
              && known.baseName().equals(baseName)
              && names.isFor(application, known.name(), known.id())
          ? new AccountNames.Allotted(baseName, known.number(), known.name())
          : names.next(application, baseName);
    }

    /**
     * Making it failed, and waits for somebody. If it would be made otherwise now, because a fact
     * or the definition was mended, that takes its place.
     */
    private AccountPlan remade(Account account) {
      var baseName = baseName();
      var name =
          baseName.equals(account.baseName())
              ? new AccountNames.Allotted(baseName, account.number(), account.name())
              : names.next(application, baseName);
      var container = container(name.name());
      var attributes = attributes(name.name(), account.attributes());
      var same =
          name.name().equals(account.name())
              && container.equals(account.container())
              && attributes.equals(account.attributes())
              && desired.account() == account.state()
              && desired.entitlements().equals(account.entitlements());
      if (!same) {
        commands.add(
            new ProvisioningCommand.Create(name.name(), container, attributes, desired.account()));
        desired.entitlements().forEach(this::add);
      }
      return planned(account, name, container, attributes, same);
    }

    private AccountPlan adjusted(Account account) {
      var name = nameNow(account);
      var container = containerNow(account, name.name());
      var attributes = attributes(name.name(), account.attributes());
      if (!name.name().equals(account.name())
          || !container.equals(account.container())
          || !attributes.equals(account.attributes())) {
        commands.add(new ProvisioningCommand.Update(name.name(), container, attributes));
      }
      var turns = desired.account() != account.state();
      if (turns && desired.account() == AccountState.DISABLED) {
        commands.add(new ProvisioningCommand.Disable());
      }
      without(account.entitlements(), desired.entitlements()).forEach(this::remove);
      if (turns && desired.account() == AccountState.ENABLED) {
        commands.add(new ProvisioningCommand.Enable());
      }
      without(desired.entitlements(), account.entitlements()).forEach(this::add);
      return planned(account, name, container, attributes, false);
    }

    private AccountPlan planned(
        Account account,
        AccountNames.Allotted name,
        String container,
        SortedMap<String, String> attributes,
        boolean unmade) {
      var after =
          new Account(
              account.id(),
              account.person(),
              account.application(),
              name.baseName(),
              name.number(),
              name.name(),
              container,
              attributes,
              desired.account(),
              desired.entitlements(),
              null,
              account.nextSequence() + commands.size(),
              unmade,
              account.seen());
      return new AccountPlan(Optional.of(account), after, commands);
    }

    /** The name it has, or the one its facts give now where the application renames. */
    private AccountNames.Allotted nameNow(Account account) {
      var keep = new AccountNames.Allotted(account.baseName(), account.number(), account.name());
      if (!application.renames()) {
        return keep;
      }
      try {
        var baseName = baseName();
        return baseName.equals(account.baseName())
            ? new AccountNames.Allotted(
                baseName,
                account.number(),
                AccountNames.numbered(baseName, account.number(), application.longestName()))
            : names.next(application, baseName);
      } catch (Unanswerable kept) {
        trouble("account name", kept);
        return keep;
      }
    }

    private String containerNow(Account account, String name) {
      try {
        return container(name);
      } catch (Unanswerable kept) {
        trouble("container", kept);
        return account.container();
      }
    }

    private AccountPlan unneeded(Account account) {
      if (account.state() == AccountState.ENABLED) {
        commands.add(new ProvisioningCommand.Disable());
      }
      if (!account.unmade()) {
        account.entitlements().forEach(this::remove);
      }
      var unneededSince = Objects.requireNonNullElse(account.unneededSince(), now);
      var delete =
          application.lifecycle().afterHold() == AfterHold.DELETE
              && !now.isBefore(unneededSince.plus(hold(application)));
      if (delete) {
        commands.add(new ProvisioningCommand.Delete());
      }
      var after =
          new Account(
              account.id(),
              account.person(),
              account.application(),
              account.baseName(),
              account.number(),
              account.name(),
              account.container(),
              account.attributes(),
              delete ? AccountState.NONE : AccountState.DISABLED,
              new TreeSet<>(),
              unneededSince,
              account.nextSequence() + commands.size(),
              account.unmade() && commands.isEmpty(),
              account.seen());
      return new AccountPlan(Optional.of(account), after, commands);
    }

    private void trouble(String what, Unanswerable why) {
      troubles.add(
          new Trouble(
              "application: " + application.key() + ", " + what, String.valueOf(why.getMessage())));
    }

    private String baseName() {
      return Planner.baseName(application, view, accountNames);
    }

    private String container(String name) {
      return application
          .container()
          .flatMap(mapping -> mapping.value(view, accountNames, name))
          .orElse("");
    }

    /** The attributes as mapped; one that cannot be made stays as it was. */
    private TreeMap<String, String> attributes(String name, SortedMap<String, String> before) {
      var attributes = new TreeMap<String, String>();
      application
          .attributes()
          .forEach((attribute, mapping) -> {
            try {
              mapping
                  .value(view, accountNames, name)
                  .ifPresent(value -> attributes.put(attribute, value));
            } catch (Unanswerable kept) {
              trouble(attribute, kept);
              var value = before.get(attribute);
              if (value != null) {
                attributes.put(attribute, value);
              }
            }
          });
      return attributes;
    }

    private void add(String key) {
      var entitlement = catalogue.entitlements().get(key);
      if (entitlement != null) {
        commands.add(
            new ProvisioningCommand.Add(key, entitlement.technicalName(), entitlement.kind()));
      }
    }

    private void remove(String key) {
      var entitlement = catalogue.entitlements().get(key);
      commands.add(
          entitlement == null
              ? new ProvisioningCommand.Remove(key, key.substring(key.indexOf('/') + 1), "group")
              : new ProvisioningCommand.Remove(
                  key, entitlement.technicalName(), entitlement.kind()));
    }
  }

  private static TreeSet<String> without(Collection<String> all, Collection<String> less) {
    var rest = new TreeSet<>(all);
    rest.removeAll(less);
    return rest;
  }

  private static Duration hold(Application application) {
    return Duration.ofDays(application.lifecycle().holdDays());
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
            deviations)
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
        .map(application -> Objects.requireNonNull(unneededSince).plus(hold(application)))
        .findFirst();
  }
}
