package glenmoor.core.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.applications.Application;
import glenmoor.core.conditions.HoldingCondition;
import glenmoor.core.conditions.HoldingCondition.Held;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * A condition about holdings, answered once and for all: what of a holding is not in its
 * entitlement has 64 cases, so the answer for one entitlement is a number of 64 bits. A database
 * finds the bit of a row, and millions of rows cost one evaluation a case and entitlement, and none
 * a row. It says exactly what asking row by row says.
 */
public final class HoldingScope {
  /** Every case. */
  public static final long ALL = -1L;

  private static final List<Basis> BASES =
      List.of(Basis.BIRTHRIGHT, Basis.REQUEST, Basis.DIRECT, Basis.DISCOVERED);

  private HoldingScope() {}

  /** The bit of a basis in a number that says all of them. */
  public static int bit(Basis basis) {
    return 1 << BASES.indexOf(basis);
  }

  /** The bases that a number says. */
  public static List<Basis> bases(int bits) {
    return BASES.stream().filter(each -> (bits & bit(each)) != 0).toList();
  }

  /** The bit of a case: of which bases, idle or not, in conflict or not. */
  public static int bit(int bases, boolean idle, boolean conflict) {
    return bases * 4 + (idle ? 2 : 0) + (conflict ? 1 : 0);
  }

  /**
   * The cases for which a condition holds, by the keys of what is held; what it holds for in none
   * is left out.
   *
   * @throws glenmoor.core.conditions.Unanswerable if it fails
   */
  public static Map<String, Long> of(
      HoldingCondition condition, Campaign.Judged judged, Catalogue catalogue) {
    var scope = new TreeMap<String, Long>();
    var tags =
        judged == Campaign.Judged.ENTITLEMENTS ? tags(catalogue) : Map.<String, List<String>>of();
    for (var key : all(judged, catalogue).keySet()) {
      put(
          scope,
          condition,
          key,
          rights(judged, key, catalogue),
          judged == Campaign.Judged.PACKAGES
              ? Objects.requireNonNull(catalogue.packages().get(key)).tags()
              : tags.getOrDefault(key, List.of()));
    }
    return scope;
  }

  /** Everything that can be judged, in every case. */
  public static Map<String, Long> all(Campaign.Judged judged, Catalogue catalogue) {
    var keys =
        switch (judged) {
          case ENTITLEMENTS -> catalogue.entitlements().keySet();
          case PACKAGES -> catalogue.packages().keySet();
          case ACCOUNTS, STRAY_ACCOUNTS, SERVICE_ACCOUNTS ->
              catalogue.applications().stream().map(Application::key).toList();
        };
    var all = new TreeMap<String, Long>();
    keys.forEach(key -> all.put(key, ALL));
    return all;
  }

  /** The rights that something gives, or is; of an account, all that its application has. */
  public static List<Entitlement> rights(Campaign.Judged judged, String key, Catalogue catalogue) {
    return switch (judged) {
      case ENTITLEMENTS -> List.of(Objects.requireNonNull(catalogue.entitlements().get(key)));
      case PACKAGES -> catalogue.given(new Grant.Target.OfPackage(key)).toList();
      case ACCOUNTS, STRAY_ACCOUNTS, SERVICE_ACCOUNTS ->
          catalogue.entitlements().values().stream()
              .filter(right -> right.application().equals(key))
              .toList();
    };
  }

  private static Map<String, List<String>> tags(Catalogue catalogue) {
    var tags = new TreeMap<String, List<String>>();
    for (var bundle : catalogue.packages().values()) {
      for (var key : bundle.entitlements()) {
        tags.computeIfAbsent(key, none -> new ArrayList<>()).addAll(bundle.tags());
      }
    }
    return tags;
  }

  private static void put(
      Map<String, Long> scope,
      HoldingCondition condition,
      String key,
      List<Entitlement> rights,
      Collection<String> tags) {
    var mask = 0L;
    for (var bases = 0; bases < 16; bases++) {
      for (var idle : Arrays.asList(false, true)) {
        for (var conflict : Arrays.asList(false, true)) {
          if (condition.holds(held(key, rights, tags, bases, idle, conflict))) {
            mask |= 1L << bit(bases, idle, conflict);
          }
        }
      }
    }
    if (mask != 0) {
      scope.put(key, mask);
    }
  }

  /** What is held, in one case; of several rights the highest risk counts. */
  public static Held held(
      String key,
      List<Entitlement> rights,
      Collection<String> tags,
      int bases,
      boolean idle,
      boolean conflict) {
    var applications = rights.stream().map(Entitlement::application).distinct().toList();
    return new Held(
        applications.size() == 1 ? applications.getFirst() : "",
        key,
        risk(rights).word(),
        rights.stream().anyMatch(Entitlement::privileged),
        tags.stream().distinct().sorted().collect(Collectors.toList()),
        bases(bases).stream().map(Basis::word).toList(),
        idle,
        conflict);
  }

  /** The highest risk of some rights. */
  public static Entitlement.Risk risk(Collection<Entitlement> rights) {
    return rights.stream().map(Entitlement::risk).max(Enum::compareTo).orElse(Entitlement.Risk.LOW);
  }
}
