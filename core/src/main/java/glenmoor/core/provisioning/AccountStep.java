package glenmoor.core.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.DesiredAccess;
import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * One application's part in a plan for one person: what its account should be, and the orders to
 * it.
 */
final class AccountStep {
  private final Catalogue catalogue;
  private final AccountNames names;
  private final Instant now;
  private final Application application;
  private final DesiredAccess desired;
  private final @Nullable Account known;
  private final Map<String, Object> view;
  private final Map<String, String> accountNames;
  private final List<Trouble> troubles;
  private final List<ProvisioningCommand> commands = new ArrayList<>();

  /** Whether the account was adopted since the last plan: it is left as it is. */
  private boolean asFound;

  AccountStep(
      Catalogue catalogue,
      AccountNames names,
      Instant now,
      Application application,
      DesiredAccess desired,
      @Nullable Account known,
      Map<String, Object> view,
      Map<String, String> accountNames,
      List<Trouble> troubles) {
    this.catalogue = catalogue;
    this.names = names;
    this.now = now;
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
    asFound = snapshot.ordered(application.key(), AccountOrder.Kind.LEAVE).isPresent();
    if (desired.account() == AccountState.NONE) {
      return known != null && there ? unneeded(known, snapshot) : null;
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
   * Making it failed, and waits for somebody. If it would be made otherwise now, because a fact or
   * the definition was mended, that takes its place.
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
    leaveAsFound();
    return planned(account, name, container, attributes, false);
  }

  /** What should be is noted; that the account is not so is drift. */
  private void leaveAsFound() {
    if (asFound) {
      commands.clear();
    }
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
      if (account.number() == Account.AS_FOUND && baseName.equals(account.baseName())) {
        return keep;
      }
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

  private AccountPlan unneeded(Account account, PersonSnapshot snapshot) {
    if (account.state() == AccountState.ENABLED) {
      commands.add(new ProvisioningCommand.Disable());
    }
    if (!account.unmade()) {
      account.entitlements().forEach(this::remove);
    }
    var unneededSince = Objects.requireNonNullElse(account.unneededSince(), now);
    var held =
        application.lifecycle().afterHold() == AfterHold.KEEP
            || now.isBefore(
                CalendarDays.after(
                    unneededSince, application.lifecycle().hold(), catalogue.zone()));
    // What was ordered before they came back, and left again, was about another time.
    var ordered =
        snapshot
            .ordered(application.key(), AccountOrder.Kind.DELETE)
            .filter(since -> !since.isBefore(unneededSince))
            .isPresent();
    var delete = (ordered || !held) && !asFound;
    if (delete) {
      commands.add(new ProvisioningCommand.Delete());
    }
    leaveAsFound();
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
            : new ProvisioningCommand.Remove(key, entitlement.technicalName(), entitlement.kind()));
  }

  private static TreeSet<String> without(Collection<String> all, Collection<String> less) {
    var rest = new TreeSet<>(all);
    rest.removeAll(less);
    return rest;
  }
}
