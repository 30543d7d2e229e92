package glenmoor.core.reconcile;

import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * One difference between an application and what Glenmoor expects of it.
 *
 * @param aspect the side of the account, as {@link ProvisioningCommand#aspect} names it
 * @param expected what should be there, by what differs
 * @param found what is there; what is missing is not in it
 */
public record Drift(
    DriftKind kind,
    String aspect,
    SortedMap<String, String> expected,
    SortedMap<String, String> found) {
  private static final String ENTITLEMENT = "entitlement";
  private static final String ENABLED = "enabled";
  private static final String STATE = "state";
  private static final String NAME = "name";

  /**
   * How an account differs from what it should be, with nothing queued for it any more.
   *
   * @param account as it is planned
   * @param withEntitlements whether the application tells who holds what
   */
  public static List<Drift> between(Account account, FoundAccount found, boolean withEntitlements) {
    var drifts = new ArrayList<Drift>();
    state(account, found).ifPresent(drifts::add);
    if (account.state() == AccountState.NONE) {
      return drifts;
    }
    content(account, found).ifPresent(drifts::add);
    if (withEntitlements) {
      for (var key : without(found.entitlements(), account.entitlements())) {
        drifts.add(of(DriftKind.EXTRA_ENTITLEMENT, key(key), Map.of(), Map.of(ENTITLEMENT, key)));
      }
      for (var key : without(account.entitlements(), found.entitlements())) {
        drifts.add(of(DriftKind.MISSING_ENTITLEMENT, key(key), Map.of(ENTITLEMENT, key), Map.of()));
      }
    }
    return drifts;
  }

  /** An account that should be there and is not. */
  public static Drift missing(Account account) {
    return of(
        DriftKind.MISSING_ACCOUNT,
        ProvisioningCommand.WHOLE,
        Map.of(NAME, account.name(), STATE, account.state().word()),
        Map.of());
  }

  /** An account that is nobody's. */
  public static Drift stray(FoundAccount found) {
    var shown = new TreeMap<>(found.attributes());
    shown.put(NAME, found.name());
    shown.put(STATE, word(found));
    if (!found.worker().isEmpty()) {
      shown.put("worker", found.worker());
    }
    return new Drift(DriftKind.STRAY_ACCOUNT, ProvisioningCommand.WHOLE, new TreeMap<>(), shown);
  }

  /** Whether repairing it would open an account that is shut, or make one that is open. */
  public boolean opens() {
    return AccountState.ENABLED.word().equals(expected.get(STATE));
  }

  private static Optional<Drift> state(Account account, FoundAccount found) {
    var is = Map.of(STATE, word(found));
    return switch (account.state()) {
      case NONE ->
          Optional.of(
              of(
                  DriftKind.GHOST_ACCOUNT,
                  ProvisioningCommand.WHOLE,
                  Map.of(STATE, AccountState.NONE.word()),
                  is));
      case ENABLED ->
          found.enabled()
              ? Optional.empty()
              : Optional.of(of(DriftKind.ALTERED_ATTRIBUTE, ENABLED, state(account), is));
      case DISABLED ->
          found.enabled()
              ? Optional.of(
                  of(
                      account.unneededSince() == null
                          ? DriftKind.ALTERED_ATTRIBUTE
                          : DriftKind.GHOST_ACCOUNT,
                      ENABLED,
                      state(account),
                      is))
              : Optional.empty();
    };
  }

  private static Map<String, String> state(Account account) {
    return Map.of(STATE, account.state().word());
  }

  private static String word(FoundAccount found) {
    return (found.enabled() ? AccountState.ENABLED : AccountState.DISABLED).word();
  }

  /** Names and places are compared as applications compare them: without regard to case. */
  private static Optional<Drift> content(Account account, FoundAccount found) {
    var expected = new TreeMap<String, String>();
    var is = new TreeMap<String, String>();
    if (!account.name().equalsIgnoreCase(found.name())) {
      expected.put(NAME, account.name());
      is.put(NAME, found.name());
    }
    if (!account.container().equalsIgnoreCase(found.container())) {
      expected.put("container", account.container());
      is.put("container", found.container());
    }
    var attributes = new TreeSet<>(account.attributes().keySet());
    attributes.addAll(found.attributes().keySet());
    for (var attribute : attributes) {
      var should = account.attributes().getOrDefault(attribute, "");
      var has = found.attributes().getOrDefault(attribute, "");
      if (!should.equals(has)) {
        expected.put(attribute, should);
        is.put(attribute, has);
      }
    }
    return expected.isEmpty()
        ? Optional.empty()
        : Optional.of(new Drift(DriftKind.ALTERED_ATTRIBUTE, "content", expected, is));
  }

  private static Drift of(
      DriftKind kind, String aspect, Map<String, String> expected, Map<String, String> found) {
    return new Drift(kind, aspect, new TreeMap<>(expected), new TreeMap<>(found));
  }

  private static String key(String entitlement) {
    return ENTITLEMENT + ":" + entitlement;
  }

  private static TreeSet<String> without(SortedSet<String> all, SortedSet<String> those) {
    var left = new TreeSet<>(all);
    left.removeAll(those);
    return left;
  }
}
