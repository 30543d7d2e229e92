package glenmoor.core.applications;

import glenmoor.core.conditions.Expressions.Mapping;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;

/**
 * A target system as it is defined.
 *
 * @param settings what the connector needs: addresses, bases, names of files with secrets
 * @param accountName makes an account's name; collisions are numbered
 * @param longestName the most characters an account name may have there; longer ones are cut
 * @param namesKeptDays for how long a name that was given up goes to nobody else
 * @param reservedNames account names, or what stands in them before an at sign, that nobody is
 *     given, as {@link NameKey} compares them
 * @param container where the account is kept, for connectors that have containers
 * @param after keys of the applications whose account names this one's mappings use
 * @param parallel how many accounts may be worked on side by side
 * @param maintenance when nothing is sent
 * @param seats how many accounts may be enabled there at a time; nothing where that is not counted
 * @param idleDays after how many days without use an enabled account, or a right of which its use
 *     is told, is idle; nothing where that is not watched
 * @param openTo keys of the portfolios that may have its entitlements; nothing where all may
 */
public record Application(
    String key,
    String name,
    String connector,
    Map<String, Object> settings,
    Mapping accountName,
    boolean renames,
    int longestName,
    int namesKeptDays,
    Set<String> reservedNames,
    Optional<Mapping> container,
    SortedMap<String, Mapping> attributes,
    LifecyclePolicy lifecycle,
    List<String> after,
    int parallel,
    Optional<Maintenance> maintenance,
    Optional<Integer> seats,
    Optional<Integer> idleDays,
    Optional<Set<String>> openTo) {

  /** Until when nothing is sent to it; nothing while it may be. */
  public Optional<Instant> closedUntil(Instant now, ZoneId zone) {
    return maintenance.flatMap(each -> each.until(now, zone));
  }

  /** Whether its connector declares that it can; one that is not known here can nothing. */
  public boolean can(Ability ability) {
    return ConnectorKind.ofWord(connector).filter(kind -> kind.can(ability)).isPresent();
  }

  /** What an account goes through beside the giving and taking of access. */
  public record LifecyclePolicy(
      int readyDaysAhead, WhileOnLeave onLeave, int holdDays, AfterHold afterHold) {
    /** How long a disabled account that nobody needs is held. */
    public Duration hold() {
      return Duration.ofDays(holdDays);
    }
  }

  /** What becomes of the account while its person is on leave. */
  public enum WhileOnLeave {
    DISABLE("disable"),
    KEEP("keep");

    private final String word;

    WhileOnLeave(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** What becomes of a disabled account nobody needs, once it was held long enough. */
  public enum AfterHold {
    DELETE("delete"),
    KEEP("keep");

    private final String word;

    AfterHold(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
