package glenmoor.engine.applications;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.Settings;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Authorization;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.Prerequisites;
import glenmoor.engine.time.Clock;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.applications.HealthMapper.HealthRow;
import glenmoor.store.applications.HealthMapper.Load;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What people see of applications, and tests of them. */
@Named
public final class ApplicationService implements Prerequisites {
  /** An application with its health and the counts of its work. */
  public record Summary(
      String key,
      String name,
      String connector,
      String health,
      String sentence,
      @Nullable Instant since,
      int accounts,
      int enabled,
      int waiting,
      int faults,
      int confirmedToday) {}

  /** What a test of an application showed. */
  public record TestResult(
      String key,
      String name,
      boolean well,
      String sentence,
      int accountsThere,
      int accountsKnown,
      List<String> abilities,
      List<String> missing) {}

  private final Connections connections;
  private final HealthNotes notes;
  private final Catalogues catalogues;
  private final HealthMapper health;
  private static final DateTimeFormatter MOMENT =
      DateTimeFormatter.ofPattern("d MMM HH:mm", Locale.ENGLISH);

  private final KnownApplications applications;
  private final Clock clock;
  private final CostlyCount<Map<String, Load>> counts = new CostlyCount<>(this::count);

  public ApplicationService(
      Connections connections,
      HealthNotes notes,
      Catalogues catalogues,
      HealthMapper health,
      KnownApplications applications,
      Clock clock) {
    this.applications = applications;
    this.connections = connections;
    this.notes = notes;
    this.catalogues = catalogues;
    this.health = health;
    this.clock = clock;
  }

  public List<Summary> list(Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var known = health.all().stream().collect(Collectors.toMap(HealthRow::application, h -> h));
    var loads = counts.get();
    return connections.all().stream()
        .filter(application -> reach.covers(application.key()))
        .map(application -> {
          var state = known.get(application.key());
          var load =
              loads.getOrDefault(application.key(), new Load(application.key(), 0, 0, 0, 0, 0));
          return new Summary(
              application.key(),
              application.name(),
              application.connector(),
              state == null ? "unknown" : state.state(),
              sentence(application, state),
              state == null ? null : state.since(),
              load.accounts(),
              load.enabled(),
              load.waiting(),
              load.faults(),
              load.confirmedToday());
        })
        .toList();
  }

  private Map<String, Load> count() {
    var midnight =
        clock
            .instant()
            .atZone(catalogues.zone())
            .toLocalDate()
            .atStartOfDay(catalogues.zone())
            .toInstant();
    return health.loads(midnight).stream().collect(Collectors.toMap(Load::application, l -> l));
  }

  private String sentence(Application application, @Nullable HealthRow state) {
    if (application.parallel() == 0) {
      return "held: its definition says parallel: 0";
    }
    var until = connections.closedUntil(application);
    if (until.isPresent()) {
      return "maintained until %s: what there is to do waits"
          .formatted(until.get().atZone(catalogues.zone()).format(MOMENT));
    }
    return state == null ? "not asked yet" : state.sentence();
  }

  /** Tests one application and counts its accounts. */
  public TestResult test(String key, Actor actor) {
    var application = applications.of(key, Permission.TEST_APPLICATIONS, actor);
    var accounts = counts.get().getOrDefault(key, new Load(key, 0, 0, 0, 0, 0)).accounts();
    try {
      var connector = connections.connector(application);
      var found = connector.test();
      notes.note(key, found.well(), found.well() ? "answers" : found.sentence());
      var there = new AtomicInteger();
      var findings = new Connector.Findings(List.of(), List.of());
      if (found.well()) {
        findings = connector.examine(entitlements(key));
        connector.list(seen -> there.incrementAndGet());
      }
      return new TestResult(
          key,
          application.name(),
          found.well() && findings.missing().isEmpty(),
          found.sentence(),
          there.get(),
          accounts,
          findings.abilities(),
          findings.missing());
    } catch (Settings.BadSetting | Connector.CannotRead bad) {
      return new TestResult(
          key,
          application.name(),
          false,
          String.valueOf(bad.getMessage()),
          0,
          accounts,
          List.of(),
          List.of());
    }
  }

  private List<Entitlement> entitlements(String application) {
    return catalogues.current().entitlements().values().stream()
        .filter(each -> each.application().equals(application))
        .toList();
  }

  /**
   * What must be there before these definitions can be carried out, and is not: one sentence each.
   * Asks each application itself.
   */
  @Override
  public List<String> missing(Catalogue catalogue) {
    var missing = new ArrayList<String>();
    for (var application : catalogue.applications()) {
      try (var connector = connections.trying(application)) {
        var wanted =
            catalogue.entitlements().values().stream()
                .filter(each -> each.application().equals(application.key()))
                .toList();
        connector
            .examine(wanted)
            .missing()
            .forEach(each -> missing.add(application.key() + ": " + each));
      } catch (Settings.BadSetting | Connector.CannotRead bad) {
        missing.add(application.key() + ": " + bad.getMessage());
      }
    }
    return missing;
  }
}
