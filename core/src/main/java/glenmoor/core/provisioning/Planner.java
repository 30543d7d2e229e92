package glenmoor.core.provisioning;

import glenmoor.core.access.Birthrights;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.DesiredAccess;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
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
  private final NameNumbers names;
  private final Instant now;

  public Planner(Catalogue catalogue, NameNumbers names, Instant now) {
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
      Collection<PersonPicture> pictures, Catalogue catalogue) {
    var bases = new HashMap<String, Set<String>>();
    for (var picture : pictures) {
      var names = new HashMap<String, String>();
      catalogue.applications().forEach(application -> names.put(application.key(), ""));
      picture.accounts().forEach(account -> names.put(account.application(), account.name()));
      var view = catalogue.expressions().view(picture.person());
      for (var application : catalogue.applications()) {
        if (names.getOrDefault(application.key(), "").isEmpty() || application.renames()) {
          var base = baseName(application, view, names);
          names.computeIfPresent(application.key(), (key, name) -> name.isEmpty() ? base : name);
          bases.computeIfAbsent(application.key(), key -> new HashSet<>()).add(base);
        }
      }
    }
    return bases;
  }

  private static String baseName(
      Application application, Map<String, Object> view, Map<String, String> accountNames) {
    return application
        .accountName()
        .value(view, accountNames, "")
        .orElseGet(() -> String.valueOf(view.get("person.worker")).toLowerCase(Locale.ROOT));
  }

  /** Plans for one person. */
  public PersonPlan plan(PersonPicture picture) {
    var person = picture.person();
    var changes = Birthrights.decide(person, picture.grants(), catalogue, now);
    var grants = grantsAfter(picture.grants(), changes);
    var known = new HashMap<String, Account>();
    picture.accounts().forEach(account -> known.put(account.application(), account));
    var accountNames = new HashMap<String, String>();
    catalogue.applications().forEach(application -> accountNames.put(application.key(), ""));
    known.values().forEach(account -> accountNames.put(account.application(), account.name()));
    var view = catalogue.expressions().view(person);
    var plans = new ArrayList<AccountPlan>();
    var accountsAfter = new ArrayList<>(picture.accounts());
    for (var application : catalogue.applications()) {
      var desired = DesiredAccess.of(application, person, grants, catalogue, now);
      var step = new Step(application, desired, known.get(application.key()), view, accountNames);
      var plan = step.plan(picture);
      if (plan != null) {
        accountNames.put(application.key(), plan.after().name());
        plan.before().ifPresent(accountsAfter::remove);
        accountsAfter.add(plan.after());
        if (plan.before().filter(plan.after()::equals).isEmpty() || !plan.orders().isEmpty()) {
          plans.add(plan);
        }
      }
    }
    var today = now.atZone(catalogue.zone()).toLocalDate();
    return new PersonPlan(
        person,
        Standing.of(person, today),
        changes.begin(),
        changes.amend(),
        plans,
        nextDue(picture, grants, accountsAfter));
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
    private final List<Order> orders = new ArrayList<>();

    Step(
        Application application,
        DesiredAccess desired,
        @Nullable Account known,
        Map<String, Object> view,
        Map<String, String> accountNames) {
      this.application = application;
      this.desired = desired;
      this.known = known;
      this.view = view;
      this.accountNames = accountNames;
    }

    @Nullable AccountPlan plan(PersonPicture picture) {
      var there = known != null && known.state() != AccountState.NONE;
      if (desired.account() == AccountState.NONE) {
        return known != null && there ? unneeded(known) : null;
      }
      if (known != null && there) {
        return adjusted(known);
      }
      return made(picture);
    }

    private AccountPlan made(PersonPicture picture) {
      var baseName = baseName();
      var kept = known != null && known.baseName().equals(baseName);
      var number = kept && known != null ? known.number() : names.next(application.key(), baseName);
      var name = Account.nameOf(baseName, number);
      var container = container(name);
      var attributes = attributes(name);
      orders.add(new Order.Create(name, container, attributes, desired.account()));
      desired.entitlements().forEach(this::add);
      var after =
          new Account(
              known == null ? 0 : known.id(),
              picture.person().id(),
              application.key(),
              baseName,
              number,
              container,
              attributes,
              desired.account(),
              desired.entitlements(),
              null,
              (known == null ? 1 : known.nextSequence()) + orders.size());
      return new AccountPlan(Optional.ofNullable(known), after, orders);
    }

    private AccountPlan adjusted(Account account) {
      var baseName = application.renames() ? baseName() : account.baseName();
      var number =
          baseName.equals(account.baseName())
              ? account.number()
              : names.next(application.key(), baseName);
      var name = Account.nameOf(baseName, number);
      var container = container(name);
      var attributes = attributes(name);
      if (!name.equals(account.name())
          || !container.equals(account.container())
          || !attributes.equals(account.attributes())) {
        orders.add(new Order.Update(name, container, attributes));
      }
      var turns = desired.account() != account.state();
      if (turns && desired.account() == AccountState.DISABLED) {
        orders.add(new Order.Disable());
      }
      without(account.entitlements(), desired.entitlements()).forEach(this::remove);
      if (turns && desired.account() == AccountState.ENABLED) {
        orders.add(new Order.Enable());
      }
      without(desired.entitlements(), account.entitlements()).forEach(this::add);
      var after =
          new Account(
              account.id(),
              account.person(),
              account.application(),
              baseName,
              number,
              container,
              attributes,
              desired.account(),
              desired.entitlements(),
              null,
              account.nextSequence() + orders.size());
      return new AccountPlan(Optional.of(account), after, orders);
    }

    private AccountPlan unneeded(Account account) {
      if (account.state() == AccountState.ENABLED) {
        orders.add(new Order.Disable());
      }
      account.entitlements().forEach(this::remove);
      var heldSince = Objects.requireNonNullElse(account.heldSince(), now);
      var delete =
          application.care().afterHold() == AfterHold.DELETE
              && !now.isBefore(heldSince.plus(hold(application)));
      if (delete) {
        orders.add(new Order.Delete());
      }
      var after =
          new Account(
              account.id(),
              account.person(),
              account.application(),
              account.baseName(),
              account.number(),
              account.container(),
              account.attributes(),
              delete ? AccountState.NONE : AccountState.DISABLED,
              new TreeSet<>(),
              heldSince,
              account.nextSequence() + orders.size());
      return new AccountPlan(Optional.of(account), after, orders);
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

    private TreeMap<String, String> attributes(String name) {
      var attributes = new TreeMap<String, String>();
      application
          .attributes()
          .forEach((attribute, mapping) ->
              mapping
                  .value(view, accountNames, name)
                  .ifPresent(value -> attributes.put(attribute, value)));
      return attributes;
    }

    private void add(String key) {
      var entitlement = catalogue.entitlements().get(key);
      if (entitlement != null) {
        orders.add(new Order.Add(key, entitlement.technicalName(), entitlement.kind()));
      }
    }

    private void remove(String key) {
      var entitlement = catalogue.entitlements().get(key);
      orders.add(
          entitlement == null
              ? new Order.Remove(key, key.substring(key.indexOf('/') + 1), "group")
              : new Order.Remove(key, entitlement.technicalName(), entitlement.kind()));
    }
  }

  private static TreeSet<String> without(Collection<String> all, Collection<String> less) {
    var rest = new TreeSet<>(all);
    rest.removeAll(less);
    return rest;
  }

  private static Duration hold(Application application) {
    return Duration.ofDays(application.care().holdDays());
  }

  private Optional<Instant> nextDue(
      PersonPicture picture, List<Grant> grants, List<Account> accounts) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var dates =
        Stream.concat(
            Standing.nextChange(picture.person(), today).stream(),
            picture.person().facts().date(Facts.START).stream()
                .flatMap(start ->
                    catalogue.applications().stream()
                        .map(application -> start.minusDays(application.care().readyDaysAhead()))));
    var grantMoments =
        grants.stream()
            .flatMap(grant ->
                Stream.of(grant.startsAt(), Objects.requireNonNullElse(grant.endsAt(), now)));
    var holds =
        accounts.stream()
            .filter(account -> account.state() == AccountState.DISABLED)
            .flatMap(account -> deletion(account).stream());
    return Stream.of(
            dates.map(date -> date.atStartOfDay(catalogue.zone()).toInstant()), grantMoments, holds)
        .flatMap(moments -> moments)
        .filter(moment -> moment.isAfter(now))
        .min(Instant::compareTo);
  }

  private Optional<Instant> deletion(Account account) {
    var heldSince = account.heldSince();
    return catalogue.applications().stream()
        .filter(application -> application.key().equals(account.application()))
        .filter(application -> application.care().afterHold() == AfterHold.DELETE)
        .filter(application -> heldSince != null)
        .map(application -> Objects.requireNonNull(heldSince).plus(hold(application)))
        .findFirst();
  }
}
