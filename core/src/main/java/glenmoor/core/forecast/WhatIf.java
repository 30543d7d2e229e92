package glenmoor.core.forecast;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.CommandWords;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What would become of one person's access, right by right, if something about them were otherwise.
 *
 * @param rights sorted by what becomes of them, then by application and name
 * @param accounts those in which something would be done
 */
public record WhatIf(List<Right> rights, List<AccountChange> accounts) {
  /** What becomes of a right. */
  public enum Fate {
    GAINED("gained"),
    LOST("lost"),
    /** Still held, but only by grants that end. */
    AT_RISK("at-risk"),
    KEPT("kept");

    private final String word;

    Fate(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /**
   * One right.
   *
   * @param until the end of the last grant that gives it; null where it is lost or has no end
   */
  public record Right(
      String entitlement, String name, String application, Fate fate, @Nullable Instant until) {}

  /** One account, and what would be done in it, such as {@code shut, 3 rights taken}. */
  public record AccountChange(String application, String name, String account, String what) {}

  /**
   * Compares what somebody has, or will have once the queue is done, with a plan for them.
   *
   * @param now the moment for which it was planned
   */
  public static WhatIf of(
      PersonSnapshot snapshot, PersonPlan plan, Catalogue catalogue, Instant now) {
    var before = new HashMap<String, Account>();
    snapshot.accounts().forEach(account -> before.put(account.application(), account));
    var after = new HashMap<>(before);
    plan.accounts().forEach(each -> after.put(each.after().application(), each.after()));
    var grants =
        snapshot
            .withoutRevoked(
                Grant.after(snapshot.grants(), plan.amend(), plan.begin()), catalogue, now)
            .stream()
            .filter(grant -> grant.inForce(now))
            .toList();
    var rights = new ArrayList<Right>();
    for (var application : catalogue.applications()) {
      var had = held(before.get(application.key()));
      var has = held(after.get(application.key()));
      var all = new TreeSet<>(had);
      all.addAll(has);
      for (var key : all) {
        rights.add(
            right(key, had.contains(key), has.contains(key), application.key(), grants, catalogue));
      }
    }
    rights.sort(
        Comparator.comparing(Right::fate)
            .thenComparing(Right::application)
            .thenComparing(Right::name));
    return new WhatIf(List.copyOf(rights), changes(plan, catalogue));
  }

  private static TreeSet<String> held(@Nullable Account account) {
    return account == null || account.state() == AccountState.NONE
        ? new TreeSet<>()
        : new TreeSet<>(account.entitlements());
  }

  private static Right right(
      String key,
      boolean had,
      boolean has,
      String application,
      List<Grant> grants,
      Catalogue catalogue) {
    var entitlement = catalogue.entitlements().get(key);
    var ends = has ? end(key, grants, catalogue) : null;
    var fate = !has ? Fate.LOST : !had ? Fate.GAINED : ends == null ? Fate.KEPT : Fate.AT_RISK;
    return new Right(
        key, entitlement == null ? key : entitlement.plainName(), application, fate, ends);
  }

  /** When the last of the grants that give something ends; null if one has no end, or none does. */
  private static @Nullable Instant end(String key, List<Grant> grants, Catalogue catalogue) {
    Instant last = null;
    for (var grant : grants) {
      if (catalogue.given(grant).map(Entitlement::key).anyMatch(key::equals)) {
        var end = grant.endsAt();
        if (end == null) {
          return null;
        }
        last = last == null || end.isAfter(last) ? end : last;
      }
    }
    return last;
  }

  private static List<AccountChange> changes(PersonPlan plan, Catalogue catalogue) {
    var names =
        catalogue.applications().stream()
            .collect(Collectors.toMap(each -> each.key(), each -> each.name()));
    return plan.accounts().stream()
        .filter(each -> !each.commands().isEmpty())
        .map(each ->
            new AccountChange(
                each.after().application(),
                names.getOrDefault(each.after().application(), each.after().application()),
                each.after().name(),
                CommandWords.of(each.commands().stream().map(ProvisioningCommand::word).toList())))
        .toList();
  }
}
