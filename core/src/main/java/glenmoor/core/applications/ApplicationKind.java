package glenmoor.core.applications;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.applications.Application.LifecyclePolicy;
import glenmoor.core.applications.Application.WhileOnLeave;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.Mapping;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Problems;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** {@code application: directory}: a target system, and how accounts are made in it. */
@AutoService(DefinitionKind.class)
public final class ApplicationKind implements DefinitionKind<Application> {
  private static final int USUAL_PARALLEL = 8;
  private static final int USUAL_HOLD = 30;
  private static final int USUAL_NAMES_KEPT = 365;
  private static final int SHORTEST_NAME = 4;
  private static final int LONGEST_NAME = 200;

  /** The mailboxes of RFC 2142, and those whom machines take for their masters. */
  private static final Set<String> USUALLY_RESERVED =
      Set.of(
          "abuse",
          "admin",
          "administrator",
          "anonymous",
          "daemon",
          "ftp",
          "guest",
          "hostmaster",
          "info",
          "mail",
          "marketing",
          "news",
          "noc",
          "nobody",
          "postmaster",
          "root",
          "sales",
          "security",
          "support",
          "usenet",
          "uucp",
          "webmaster",
          "www");

  /** What a definition says of the way to the application, and not of who has what there. */
  private static final Set<String> ON_THE_WAY =
      Set.of("name", "settings", "parallel", "maintenance", "seats", "idle");

  @Override
  public String word() {
    return "application";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact");
  }

  @Override
  public Concern concern(String key) {
    return Concern.holders(word(), key);
  }

  @Override
  public Optional<Application> read(String key, Reading reading, Defined known) {
    var account = reading.inside("account");
    var compiling = new Compiling(account, known);
    var attributes = new TreeMap<String, Mapping>();
    account
        .map("attributes")
        .forEach(
            (name, tree) -> compiling.mapping(tree).ifPresent(made -> attributes.put(name, made)));
    var name = compiling.mapping("name");
    var connector =
        reading.oneOf(
            "connector", "", ConnectorKind.all().stream().map(ConnectorKind::word).toList());
    var settings = settings(reading, connector);
    var container =
        account.text("container").isPresent()
            ? compiling.mapping("container")
            : Optional.<Mapping>empty();
    var made =
        new Application(
            key,
            reading.text("name", key),
            connector,
            settings,
            name.orElseGet(compiling::nothing),
            account.oneOf("rename", "never", List.of("never", "on-change")).equals("on-change"),
            longest(account),
            account.days("keep-names", USUAL_NAMES_KEPT),
            reserved(account),
            container,
            attributes,
            lifecycle(reading.inside("care")),
            reading.texts("after").stream().map(Tree.Text::value).toList(),
            reading.number("parallel", USUAL_PARALLEL),
            Maintenance.read(reading),
            seats(reading),
            idle(reading),
            openTo(reading));
    ConnectorKind.ofWord(connector).ifPresent(kind -> beyond(kind, made, account, reading));
    account.finish();
    namesOf(made)
        .filter(other -> !made.after().contains(other))
        .forEach(other ->
            reading.problem(
                reading.place("account"),
                "Its mappings use the account name of %s, so %s has to be planned before it: add it under after."
                    .formatted(other, other)));
    return Optional.of(made);
  }

  /** One that nothing reads may be a secret in the open. */
  private static Map<String, Object> settings(Reading reading, String connector) {
    var known = ConnectorKind.ofWord(connector).map(ConnectorKind::settings);
    var settings = new LinkedHashMap<String, Object>();
    reading
        .map("settings")
        .forEach((setting, tree) -> {
          if (known.isPresent() && !known.get().contains(setting)) {
            reading.problem(
                tree.place(),
                "The connector %s has no setting “%s”; there are %s."
                    .formatted(connector, setting, String.join(", ", new TreeSet<>(known.get()))));
          }
          settings.put(setting, tree.plain());
        });
    return settings;
  }

  /** What is asked of the connector and it cannot do. */
  private static void beyond(
      ConnectorKind kind, Application made, Reading account, Reading reading) {
    if (made.renames() && !kind.can(Ability.RENAME)) {
      cannot(kind, Ability.RENAME, account, "rename");
    }
    if (made.container().isPresent() && !kind.can(Ability.MOVE)) {
      cannot(kind, Ability.MOVE, account, "container");
    }
    if (made.lifecycle().afterHold() == AfterHold.DELETE && !kind.can(Ability.DELETE)) {
      cannot(kind, Ability.DELETE, reading, "care");
    }
  }

  private static void cannot(ConnectorKind kind, Ability ability, Reading reading, String key) {
    reading.problem(
        reading.place(key),
        "The connector %s cannot %s, which %s asks for."
            .formatted(kind.word(), ability.sentence(), key));
  }

  private static Optional<Integer> seats(Reading reading) {
    if (!reading.has("seats")) {
      return Optional.empty();
    }
    var seats = reading.number("seats", 0);
    if (seats < 1) {
      reading.problem(
          reading.place("seats"), "seats is a number from 1; leave it out for no limit.");
    }
    return Optional.of(seats);
  }

  private static Optional<Integer> idle(Reading reading) {
    if (!reading.has("idle")) {
      return Optional.empty();
    }
    var days = reading.days("idle", 1);
    if (days < 1) {
      reading.problem(
          reading.place("idle"), "idle is 1 day or more; leave it out to watch nothing.");
    }
    return Optional.of(days);
  }

  /** Portfolios refer to entitlements, so what stands here is checked where one takes them. */
  private static Optional<Set<String>> openTo(Reading reading) {
    return reading.has("open-to")
        ? Optional.of(
            reading.texts("open-to").stream()
                .map(Tree.Text::value)
                .collect(Collectors.toUnmodifiableSet()))
        : Optional.empty();
  }

  private static Set<String> reserved(Reading account) {
    return account.has("reserved")
        ? account.texts("reserved").stream()
            .map(text -> NameKey.of(text.value()))
            .collect(Collectors.toUnmodifiableSet())
        : USUALLY_RESERVED;
  }

  private static int longest(Reading account) {
    var longest = account.number("longest", LONGEST_NAME);
    if (longest >= SHORTEST_NAME && longest <= LONGEST_NAME) {
      return longest;
    }
    account.problem(
        account.place("longest"),
        "longest is %d; say a number from %d to %d."
            .formatted(longest, SHORTEST_NAME, LONGEST_NAME));
    return LONGEST_NAME;
  }

  private static LifecyclePolicy lifecycle(Reading care) {
    var policy =
        new LifecyclePolicy(
            care.days("ready", 0),
            care.choice("on-leave", WhileOnLeave.DISABLE, WhileOnLeave::word),
            care.days("hold", USUAL_HOLD),
            care.choice("after-hold", AfterHold.KEEP, AfterHold::word));
    care.finish();
    return policy;
  }

  /** The applications whose account names an application's mappings use. */
  private static Stream<String> namesOf(Application application) {
    var names = new TreeSet<>(application.accountName().accountsNamed());
    application.container().ifPresent(mapping -> names.addAll(mapping.accountsNamed()));
    application.attributes().values().forEach(mapping -> names.addAll(mapping.accountsNamed()));
    return names.stream();
  }

  @Override
  public void check(Collection<Definition> all, Defined known, Problems problems) {
    var applications = known.all(ApplicationKind.class);
    var ordered = inPlanningOrder(applications).stream().map(Application::key).toList();
    for (var definition : all) {
      var application = applications.get(definition.key());
      if (application != null && !ordered.contains(definition.key())) {
        problems.add(
            definition.body().place(),
            "%s comes after applications that are not defined, or that come after it: %s."
                .formatted(definition.key(), String.join(", ", application.after())));
      }
    }
  }

  /**
   * Each application after those whose account names its mappings use; one that waits for itself or
   * for what is not defined is left out.
   */
  public static List<Application> inPlanningOrder(Map<String, Application> applications) {
    var ordered = new LinkedHashMap<String, Application>();
    var before = -1;
    while (ordered.size() < applications.size() && ordered.size() != before) {
      before = ordered.size();
      for (var application : applications.values()) {
        if (ordered.keySet().containsAll(application.after())) {
          ordered.putIfAbsent(application.key(), application);
        }
      }
    }
    return List.copyOf(ordered.values());
  }

  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return before.without(ON_THE_WAY).equals(after.without(ON_THE_WAY));
  }
}
