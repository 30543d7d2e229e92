package glenmoor.core.forecast;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.Facts;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Adds up what plans would do, person by person, without doing any of it. */
public final class Forecast {
  private static final int MOST_LINES = 5_000;

  /**
   * What one person would gain and lose at once.
   *
   * @param next when something may change for them after that, if a date is known
   */
  public record Line(
      String worker,
      String name,
      String event,
      List<String> gains,
      List<String> losses,
      int operations,
      @Nullable Instant next) {}

  /** Losses and gains of one group, application or kind. */
  public record Balance(int losses, int gains) {
    Balance plus(int moreLosses, int moreGains) {
      return new Balance(losses + moreLosses, gains + moreGains);
    }
  }

  /**
   * People who gain something.
   *
   * @param privileged how many of them a privileged entitlement
   * @param conflicting how many would break a conflict rule that they do not break now
   */
  public record Gaining(int people, int privileged, int conflicting) {
    static final Gaining NOBODY = new Gaining(0, 0, 0);
  }

  /**
   * All of it, added up.
   *
   * @param losing how many people lose something
   * @param groupedBy the name of the fact by which people are grouped, or empty where none is
   * @param accounts accounts that are enabled (gains) and disabled (losses), by application
   * @param conflicts how many people would break a conflict rule that they do not break now, by its
   *     key; what they are exempt from counts
   * @param coming how many people have a grant that begins or ends at a moment, to the hour
   */
  public record Sum(
      int people,
      int losing,
      int operations,
      Map<String, Integer> events,
      Map<String, Integer> operationsByKind,
      Map<String, Balance> byApplication,
      String groupedBy,
      Map<String, Balance> byGroup,
      List<Line> lines,
      List<Troubled> troubled,
      Map<Instant, Integer> coming,
      Map<String, Balance> accounts,
      Map<String, Integer> conflicts,
      Gaining gaining) {
    /** What was kept before something was counted lacks it. */
    public Sum {
      accounts = Objects.requireNonNullElse(accounts, Map.of());
      conflicts = Objects.requireNonNullElse(conflicts, Map.of());
      gaining = Objects.requireNonNullElse(gaining, Gaining.NOBODY);
    }
  }

  /**
   * What could not be computed, for how many people.
   *
   * @param example the worker number of one of them
   */
  public record Troubled(String where, String sentence, int people, String example) {}

  private final Map<String, Integer> events = new TreeMap<>();
  private final Map<String, Integer> kinds = new TreeMap<>();
  private final Map<String, Balance> applications = new TreeMap<>();
  private final Map<String, Balance> groups = new TreeMap<>();
  private final List<Line> lines = new ArrayList<>();
  private final Map<Trouble, Troubled> troubled = new LinkedHashMap<>();
  private final TreeMap<Instant, Integer> coming = new TreeMap<>();
  private final Map<String, Balance> accounts = new TreeMap<>();
  private final Map<String, Integer> conflicts = new TreeMap<>();
  private final Catalogue catalogue;
  private final @Nullable FactDefinition grouping;
  private int people;
  private int losing;
  private int gaining;
  private int privileged;
  private int conflicting;
  private int operations;

  /** A forecast for the people of a catalogue, grouped by the fact it says. */
  public Forecast(Catalogue catalogue) {
    this.catalogue = catalogue;
    grouping = catalogue.grouping().orElse(null);
  }

  /**
   * Counts one person's plan.
   *
   * @param event what the change means for them, or empty when it is no event
   */
  public void count(PersonPlan plan, String event) {
    var gains = new ArrayList<String>();
    var losses = new ArrayList<String>();
    for (var account : plan.accounts()) {
      var key = account.after().application();
      kinds(account.commands());
      var gained = 0;
      var lost = 0;
      for (var command : account.commands()) {
        switch (command) {
          case ProvisioningCommand.Add add -> {
            gains.add(add.entitlement());
            gained++;
          }
          case ProvisioningCommand.Remove remove -> {
            losses.add(remove.entitlement());
            lost++;
          }
          case ProvisioningCommand.Create create -> gains.add(key + " account " + create.name());
          case ProvisioningCommand.Disable disable ->
              losses.add(key + " account " + account.after().name());
          case ProvisioningCommand.Update u -> {}
          case ProvisioningCommand.Enable e -> {}
          case ProvisioningCommand.SetPassword s -> {}
          case ProvisioningCommand.HandOver h -> {}
          case ProvisioningCommand.Delete d -> {}
        }
      }
      applications.merge(key, new Balance(lost, gained), (a, b) -> a.plus(b.losses(), b.gains()));
    }
    plan.accounts().forEach(this::seats);
    plan.conflicts().forEach(rule -> conflicts.merge(rule, 1, Integer::sum));
    coming(plan);
    people++;
    losing += losses.isEmpty() ? 0 : 1;
    gaining += gains.isEmpty() ? 0 : 1;
    privileged += gains.stream().anyMatch(this::isPrivileged) ? 1 : 0;
    conflicting += plan.conflicts().isEmpty() ? 0 : 1;
    operations += plan.operations();
    if (!event.isEmpty()) {
      events.merge(event, 1, Integer::sum);
    }
    group(plan.person().facts(), !losses.isEmpty(), !gains.isEmpty());
    if (lines.size() < MOST_LINES) {
      lines.add(
          new Line(
              plan.person().worker().value(),
              plan.person().facts().fullName(),
              event,
              gains,
              losses,
              plan.operations(),
              plan.nextDue().orElse(null)));
    }
  }

  private boolean isPrivileged(String key) {
    var entitlement = catalogue.entitlements().get(key);
    return entitlement != null && entitlement.risk().compareTo(Entitlement.Risk.HIGH) >= 0;
  }

  private void seats(PersonPlan.AccountPlan plan) {
    var before = plan.before().filter(Forecast::isEnabled).isPresent();
    var after = isEnabled(plan.after());
    if (before != after) {
      accounts.merge(
          plan.after().application(),
          new Balance(before ? 1 : 0, after ? 1 : 0),
          (a, b) -> a.plus(b.losses(), b.gains()));
    }
  }

  private static boolean isEnabled(Account account) {
    return account.state() == AccountState.ENABLED;
  }

  private void group(Facts facts, boolean loses, boolean gains) {
    if (grouping == null) {
      return;
    }
    var value = facts.text(grouping.key());
    groups.merge(
        value.isEmpty() ? "no " + grouping.name().toLowerCase(Locale.ROOT) : value,
        new Balance(loses ? 1 : 0, gains ? 1 : 0),
        (a, b) -> a.plus(b.losses(), b.gains()));
  }

  /** Notes what could not be computed in a person's plan. */
  public void troubles(PersonPlan plan) {
    plan.troubles().forEach(trouble -> trouble(trouble, plan.person().worker().value()));
  }

  /** Notes what could not be computed for a worker. */
  public void trouble(Trouble trouble, String worker) {
    if (troubled.size() < MOST_LINES || troubled.containsKey(trouble)) {
      troubled.merge(
          trouble,
          new Troubled(trouble.where(), trouble.sentence(), 1, worker),
          (a, b) -> new Troubled(a.where(), a.sentence(), a.people() + 1, a.example()));
    }
  }

  /** Grants that begin or end later, by moment, up to so many moments. */
  private void coming(PersonPlan plan) {
    Stream.concat(
            plan.begin().stream().map(Grant::startsAt),
            plan.amend().stream().map(Grant::endsAt).filter(Objects::nonNull))
        .map(moment -> moment.truncatedTo(ChronoUnit.HOURS))
        .distinct()
        .filter(moment -> coming.containsKey(moment) || coming.size() < MOST_LINES)
        .forEach(moment -> coming.merge(moment, 1, Integer::sum));
  }

  private void kinds(List<ProvisioningCommand> commands) {
    commands.forEach(command -> kinds.merge(command.word(), 1, Integer::sum));
  }

  public Sum sum() {
    return new Sum(
        people,
        losing,
        operations,
        events,
        kinds,
        applications,
        grouping == null ? "" : grouping.name(),
        groups,
        List.copyOf(lines),
        List.copyOf(troubled.values()),
        coming,
        accounts,
        conflicts,
        new Gaining(gaining, privileged, conflicting));
  }
}
