package glenmoor.core.definitions;

import glenmoor.core.access.Birthright;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.AfterHold;
import glenmoor.core.applications.Application.LifecyclePolicy;
import glenmoor.core.applications.Application.WhileOnLeave;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.conditions.BadExpression;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.conditions.Expressions.Mapping;
import glenmoor.core.definitions.Definition.Kind;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.OnChange;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.regex.Pattern;

/**
 * Turns definitions into a {@link Catalogue}, or into the complete list of what is wrong with them.
 */
public final class Definitions {
  private static final Pattern KEY = Pattern.compile("[a-z0-9][a-z0-9-]*(/[a-z0-9][a-z0-9-]*)?");
  private static final Pattern FACT_KEY = Pattern.compile("[a-z][a-zA-Z0-9]*");
  private static final Pattern LIMIT = Pattern.compile("(\\d{1,9}) or (\\d{1,3}) ?%");
  private static final Pattern ACCOUNT_OF =
      Pattern.compile("accounts\\s*(?:\\[\\s*[\"']([^\"']+)[\"']\\s*]|\\.(\\w+))");
  private static final int USUAL_LONGEST = 200;
  private static final int USUAL_PARALLEL = 8;
  private static final int USUAL_NAMES_KEPT = 365;
  private static final int SHORTEST_NAME = 4;
  private static final int LONGEST_NAME = 200;

  /** What reading came to: a catalogue that can be used exactly when there is no problem. */
  public record Result(Optional<Catalogue> catalogue, List<Problem> problems) {}

  private final List<Problem> problems = new ArrayList<>();
  private final Map<String, FactDefinition> facts = new LinkedHashMap<>();
  private final Map<String, Source> sources = new LinkedHashMap<>();
  private final Map<String, Application> applications = new LinkedHashMap<>();
  private final Map<String, Entitlement> entitlements = new LinkedHashMap<>();
  private final Map<String, RolePackage> packages = new LinkedHashMap<>();
  private final List<Birthright> birthrights = new ArrayList<>();
  private final Map<String, Brakes> brakes = new LinkedHashMap<>();
  private Expressions expressions = new Expressions(List.of());

  private Definitions() {}

  /** Reads the first key of a document: what it defines and under which key. */
  public static Optional<Definition> document(Tree.Fields body, List<Problem> problems) {
    var first = body.fields().entrySet().stream().findFirst();
    var kind =
        first.flatMap(entry ->
            Arrays.stream(Kind.values())
                .filter(each -> each.word().equals(entry.getKey()))
                .findFirst());
    if (kind.isEmpty() || !(first.get().getValue() instanceof Tree.Text key)) {
      problems.add(
          new Problem(
              body.place(),
              "A document begins with what it defines and its key, such as package: bridge-officer; what can be defined is %s."
                  .formatted(
                      String.join(", ", Arrays.stream(Kind.values()).map(Kind::word).toList()))));
      return Optional.empty();
    }
    var pattern = kind.get() == Kind.FACT ? FACT_KEY : KEY;
    if (!pattern.matcher(key.value()).matches()) {
      problems.add(
          new Problem(
              key.place(),
              kind.get() == Kind.FACT
                  ? "A fact's key is one word that begins with a small letter, such as jobTitle; this is “%s”."
                      .formatted(key.value())
                  : "A key is made of small letters, digits and hyphens, such as bridge-officer; this is “%s”."
                      .formatted(key.value())));
      return Optional.empty();
    }
    return Optional.of(new Definition(kind.get(), key.value(), body));
  }

  /** Reads all definitions that shall be in force together. */
  public static Result read(Collection<Definition> all, long revision, ZoneId zone) {
    return new Definitions().readAll(all, revision, zone);
  }

  private Result readAll(Collection<Definition> all, long revision, ZoneId zone) {
    each(all, Kind.FACT, this::fact);
    expressions = new Expressions(facts.values());
    each(all, Kind.SOURCE, this::source);
    each(all, Kind.APPLICATION, this::application);
    each(all, Kind.ENTITLEMENT, this::entitlement);
    each(all, Kind.PACKAGE, this::rolePackage);
    each(all, Kind.BIRTHRIGHT, this::birthright);
    each(all, Kind.BRAKE, this::brake);
    var ordered = inPlanningOrder(all);
    if (!problems.isEmpty()) {
      return new Result(Optional.empty(), List.copyOf(problems));
    }
    return new Result(
        Optional.of(
            new Catalogue(
                revision,
                zone,
                facts,
                expressions,
                sources,
                ordered,
                entitlements,
                packages,
                List.copyOf(birthrights),
                brakes.getOrDefault("feeds", Brakes.USUAL_FOR_FEEDS),
                brakes.getOrDefault("definitions", Brakes.USUAL_FOR_DEFINITIONS))),
        List.of());
  }

  private interface Reader {
    void read(String key, Reading reading);
  }

  private void each(Collection<Definition> all, Kind kind, Reader reader) {
    for (var definition : all) {
      if (definition.kind() == kind) {
        var reading = new Reading(definition.body(), problems);
        reading.text(kind.word());
        reader.read(definition.key(), reading);
        reading.finish();
      }
    }
  }

  private void fact(String key, Reading reading) {
    if (Expressions.RESERVED.contains(key)) {
      reading.problem(
          reading.place("fact"),
          "A fact cannot be called %s: the expression language has that word for something else. Call it %sCode or the like."
              .formatted(key, key));
      return;
    }
    var words = Arrays.stream(FactType.values()).map(FactType::word).toList();
    var type = FactType.ofWord(reading.oneOf("type", "text", words)).orElseThrow();
    facts.put(
        key,
        new FactDefinition(
            key,
            reading.text("name", key),
            type,
            reading.yesNo("required"),
            reading.choice("on-change", OnChange.CORRECTION, OnChange::word),
            reading.number("longest", USUAL_LONGEST)));
    var mustBe =
        switch (key) {
          case Facts.START, Facts.END, Facts.LEAVE_FROM, Facts.LEAVE_TO -> FactType.DATE;
          case Facts.MANAGER -> FactType.PERSON;
          case Facts.GIVEN, Facts.FAMILY -> FactType.TEXT;
          default -> type;
        };
    if (mustBe != type) {
      reading.problem(
          reading.place("type"),
          "The fact %s has a meaning of its own and must be a %s.".formatted(key, mustBe.word()));
    }
  }

  private void source(String key, Reading reading) {
    var columns = new ArrayList<Source.Column>();
    reading
        .map("columns")
        .forEach((column, tree) -> {
          var values = new LinkedHashMap<String, String>();
          var keeps = new boolean[1];
          var fact =
              switch (tree) {
                case Tree.Text text -> text.value();
                case Tree.Fields fields -> {
                  var inside = new Reading(fields, problems);
                  inside
                      .map("values")
                      .forEach((from, to) -> values.put(from, String.valueOf(to.plain())));
                  keeps[0] =
                      inside.oneOf("else", "reject", List.of("reject", "keep")).equals("keep");
                  var named = inside.needed("fact", "which fact the column holds");
                  inside.finish();
                  yield named;
                }
                case Tree.Items items -> "";
              };
          if (!facts.containsKey(fact)) {
            reading.problem(
                tree.place(),
                "The column “%s” is mapped to “%s”, which is no fact; the facts are %s."
                    .formatted(column, fact, String.join(", ", facts.keySet())));
          }
          columns.add(new Source.Column(column, fact, Map.copyOf(values), keeps[0]));
        });
    var separator = reading.text("separator", ",");
    if (separator.length() != 1) {
      reading.problem(reading.place("separator"), "separator must be one character.");
      separator = ",";
    }
    sources.put(
        key,
        new Source(
            key,
            reading.text("name", key),
            reading.choice("mode", Source.Mode.FULL, Source.Mode::word),
            separator.charAt(0),
            reading.needed("worker", "which column holds the worker number"),
            List.copyOf(columns)));
  }

  private void application(String key, Reading reading) {
    var account = reading.inside("account");
    var lifecycle = reading.inside("care");
    var attributes = new TreeMap<String, Mapping>();
    account
        .map("attributes")
        .forEach((name, tree) ->
            mapping(tree.place(), tree).ifPresent(made -> attributes.put(name, made)));
    var name = expression(account, "name", expressions::mapping);
    var settings = new LinkedHashMap<String, Object>();
    reading.map("settings").forEach((setting, tree) -> settings.put(setting, tree.plain()));
    var container =
        account.text("container").isPresent()
            ? expression(account, "container", expressions::mapping)
            : Optional.<Mapping>empty();
    var renames = account.oneOf("rename", "never", List.of("never", "on-change"));
    var longest = account.number("longest", LONGEST_NAME);
    if (longest < SHORTEST_NAME || longest > LONGEST_NAME) {
      account.problem(
          account.place("longest"),
          "longest is %d; say a number from %d to %d."
              .formatted(longest, SHORTEST_NAME, LONGEST_NAME));
      longest = LONGEST_NAME;
    }
    var made =
        new Application(
            key,
            reading.text("name", key),
            reading.oneOf("connector", "", List.of("ldap", "scim")),
            settings,
            name.orElseGet(() -> expressions.mapping("\"\"")),
            renames.equals("on-change"),
            longest,
            account.days("keep-names", USUAL_NAMES_KEPT),
            container,
            attributes,
            new LifecyclePolicy(
                lifecycle.days("ready", 0),
                lifecycle.choice("on-leave", WhileOnLeave.DISABLE, WhileOnLeave::word),
                lifecycle.days("hold", 30),
                lifecycle.choice("after-hold", AfterHold.KEEP, AfterHold::word)),
            reading.texts("after").stream().map(Tree.Text::value).toList(),
            reading.number("parallel", USUAL_PARALLEL));
    account.finish();
    lifecycle.finish();
    namesOf(made).stream()
        .filter(other -> !made.after().contains(other))
        .forEach(other ->
            reading.problem(
                reading.place("account"),
                "Its mappings use the account name of %s, so %s has to be planned before it: add it under after."
                    .formatted(other, other)));
    applications.put(key, made);
  }

  /** The applications whose account names an application's mappings use. */
  private static Set<String> namesOf(Application application) {
    var texts = new ArrayList<String>();
    texts.add(application.accountName().text());
    application.container().ifPresent(container -> texts.add(container.text()));
    application.attributes().values().forEach(mapping -> texts.add(mapping.text()));
    var names = new TreeSet<String>();
    texts.forEach(text ->
        ACCOUNT_OF
            .matcher(text)
            .results()
            .forEach(found -> names.add(found.group(1) == null ? found.group(2) : found.group(1))));
    return names;
  }

  private Optional<Mapping> mapping(Tree.Place place, Tree tree) {
    return compiled(place, String.valueOf(tree.plain()), expressions::mapping);
  }

  private <T> Optional<T> expression(Reading reading, String key, Function<String, T> compile) {
    var text = reading.needed(key, "an expression over a person's facts");
    return text.isEmpty() ? Optional.empty() : compiled(reading.place(key), text, compile);
  }

  private <T> Optional<T> compiled(Tree.Place place, String text, Function<String, T> compile) {
    try {
      return Optional.of(compile.apply(text));
    } catch (BadExpression bad) {
      problems.add(
          new Problem(
              place,
              "The expression “%s” cannot be used: %s%s."
                  .formatted(
                      text,
                      bad.getMessage(),
                      bad.column() > 0 ? " (at its character " + bad.column() + ")" : "")));
      return Optional.empty();
    }
  }

  private void entitlement(String key, Reading reading) {
    var application = key.contains("/") ? key.substring(0, key.indexOf('/')) : "";
    if (!applications.containsKey(application)) {
      reading.problem(
          reading.place("entitlement"),
          "An entitlement's key begins with its application's, such as directory/crew; “%s” does not, or there is no such application."
              .formatted(key));
    }
    entitlements.put(
        key,
        new Entitlement(
            key,
            application,
            reading.text("technical", key.substring(key.indexOf('/') + 1)),
            reading.text("name", key),
            reading.oneOf("kind", "group", List.of("group", "role"))));
  }

  private void rolePackage(String key, Reading reading) {
    var held = reading.texts("entitlements");
    var once = new HashSet<String>();
    held.stream()
        .filter(each -> !once.add(each.value()))
        .forEach(each ->
            reading.problem(
                each.place(),
                "The entitlement “%s” is given twice; keep one.".formatted(each.value())));
    for (var each : held) {
      if (!entitlements.containsKey(each.value())) {
        reading.problem(
            each.place(),
            "There is no entitlement “%s” to put in a package.".formatted(each.value()));
      }
    }
    packages.put(
        key,
        new RolePackage(
            key,
            reading.text("name", key),
            reading.text("purpose", ""),
            held.stream().map(Tree.Text::value).distinct().toList()));
  }

  private void birthright(String key, Reading reading) {
    var given = reading.needed("package", "which package it gives");
    if (!given.isEmpty() && !packages.containsKey(given)) {
      reading.problem(reading.place("package"), "There is no package “%s”.".formatted(given));
    }
    var where = expression(reading, "where", expressions::condition);
    var grace = reading.days("grace", 0);
    where.ifPresent(condition -> birthrights.add(new Birthright(key, given, condition, grace)));
  }

  private void brake(String key, Reading reading) {
    var usual =
        switch (key) {
          case "feeds" -> Brakes.USUAL_FOR_FEEDS;
          case "definitions" -> Brakes.USUAL_FOR_DEFINITIONS;
          default -> null;
        };
    if (usual == null) {
      reading.problem(
          reading.place("brake"),
          "There is no brake “%s”; there are feeds and definitions.".formatted(key));
      return;
    }
    var changed = new EnumMap<Brakes.Measure, Brakes.Limit>(Brakes.Measure.class);
    for (var measure : usual.limits().keySet()) {
      reading
          .text(measure.word())
          .ifPresent(text -> {
            var limit = LIMIT.matcher(text);
            if (limit.matches()) {
              changed.put(
                  measure,
                  new Brakes.Limit(
                      Integer.parseInt(limit.group(1)), Integer.parseInt(limit.group(2))));
            } else {
              reading.problem(
                  reading.place(measure.word()),
                  "%s is “%s”; say a number and a share, such as 200 or 5 %%."
                      .formatted(measure.word(), text));
            }
          });
    }
    brakes.put(key, usual.with(changed));
  }

  /** Each application after those whose account names its mappings use. */
  private List<Application> inPlanningOrder(Collection<Definition> all) {
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
    for (var definition : all) {
      var application = applications.get(definition.key());
      if (definition.kind() == Kind.APPLICATION
          && application != null
          && !ordered.containsKey(definition.key())) {
        problems.add(
            new Problem(
                definition.body().place(),
                "%s comes after applications that are not defined, or that come after it: %s."
                    .formatted(definition.key(), String.join(", ", application.after()))));
      }
    }
    return List.copyOf(ordered.values());
  }
}
