package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Tree;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.definitions.DefinitionMapper.DefinitionRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** Checking, comparing, loading and dumping definitions. Loading is all or nothing. */
@Named
public final class DefinitionService {
  private static final JsonMapper JSON = JsonMapper.shared();

  /** A file as it was sent. */
  public record File(String name, String text) {}

  /** What is different in a definition: {@code added}, {@code changed} or {@code dropped}. */
  public record Difference(String kind, String key, String change) {}

  /**
   * What loading would do or did.
   *
   * @param warnings what is not wrong by itself, but has to be known before loading
   * @param missing what the applications themselves lack; only where they were asked
   * @param held the change that waits to be released, null if it was loaded
   */
  public record Outcome(
      List<Difference> differences,
      int unchanged,
      Forecast.Sum forecast,
      List<String> warnings,
      List<String> missing,
      @Nullable Long held) {}

  /** Account names of a person as a catalogue makes them, by application. */
  public record Named(String worker, String name, Map<String, String> accounts) {}

  private static final int MOST_FILES = 500;
  private static final long LARGEST = 16L << 20;
  private static final int MOST_PROBLEMS = 200;
  private static final int MOST_TRIED = 1_000;

  private record Prepared(
      List<Definition> files,
      List<Difference> differences,
      boolean plansChange,
      int unchanged,
      Catalogue catalogue) {}

  private final Catalogues catalogues;
  private final DefinitionMapper mapper;
  private final List<InUse> inUse;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final PlanPreview planning;
  private final Prerequisites prerequisites;
  private final HeldChanges held;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  public DefinitionService(
      Catalogues catalogues,
      DefinitionMapper mapper,
      List<InUse> inUse,
      PersonMapper people,
      AccountMapper accounts,
      PlanPreview planning,
      Prerequisites prerequisites,
      HeldChanges held,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.catalogues = catalogues;
    this.mapper = mapper;
    this.inUse = inUse;
    this.people = people;
    this.accounts = accounts;
    this.planning = planning;
    this.prerequisites = prerequisites;
    this.held = held;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
    held.carriedOutBy("definitions", new Releasing());
  }

  /**
   * What loading would change, and what that would do for people.
   *
   * @param online whether the applications are asked for what must be there beforehand
   * @throws Refused with every problem in the files, if there is any
   */
  public Outcome forecast(List<File> files, boolean replace, boolean online, Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    var prepared = prepare(files, replace);
    var forecast = forecast(prepared);
    var lacking = online ? prerequisites.missing(prepared.catalogue()) : List.<String>of();
    return outcome(prepared, forecast, lacking, null);
  }

  private Outcome outcome(
      Prepared prepared, Forecast.Sum forecast, List<String> lacking, @Nullable Long heldAs) {
    var warnings = new ArrayList<String>();
    if (heldAs == null) {
      warnings.addAll(holds(prepared, forecast, Map.of()));
    }
    forecast
        .troubled()
        .forEach(each ->
            warnings.add(
                "%s: %s (%s, such as %s)"
                    .formatted(
                        each.where(),
                        each.sentence(),
                        each.people() == 1 ? "1 person" : "%,d people".formatted(each.people()),
                        each.example())));
    return new Outcome(
        prepared.differences(), prepared.unchanged(), forecast, warnings, lacking, heldAs);
  }

  private List<String> holds(
      Prepared prepared, Forecast.Sum forecast, Map<Measure, Integer> allowed) {
    // The brake of now counts: a load that lets it go cannot let itself through.
    return catalogues.current().definitionBrakes().hold(measured(forecast), allowed);
  }

  private Brakes.Measured measured(Forecast.Sum forecast) {
    return new Brakes.Measured(Map.of(Measure.LOSING, forecast.losing()), people.countAll());
  }

  private Forecast.Sum forecast(Prepared prepared) {
    if (!prepared.plansChange()) {
      return new Forecast(prepared.catalogue()).sum();
    }
    var forecast = planning.forecastAll(prepared.catalogue());
    var unreadable =
        forecast.troubled().stream().filter(each -> each.where().equals("fact")).toList();
    if (!unreadable.isEmpty()) {
      throw refusal(
          unreadable.stream()
              .map(each ->
                  new Problem(
                      new Tree.Place("facts", 0),
                      "%s for %,d people, such as %s: its type cannot be changed while they have other values."
                          .formatted(each.sentence(), each.people(), each.example())))
              .toList());
    }
    return forecast;
  }

  /** Loads files: all of them or, with any problem, none; or holds them where a brake says so. */
  public Outcome load(List<File> files, boolean replace, Actor actor) {
    Authorization.need(actor, Permission.LOAD_DEFINITIONS);
    return load(files, replace, actor, Map.of());
  }

  private Outcome load(
      List<File> files, boolean replace, Actor actor, Map<Measure, Integer> allowed) {
    var before = prepare(files, replace);
    var forecast = forecast(before);
    var reasons = holds(before, forecast, allowed);
    if (!reasons.isEmpty()) {
      return outcome(before, forecast, List.of(), hold(files, replace, forecast, reasons, actor));
    }
    var prepared = transactions.run(() -> store(files, replace, actor));
    return outcome(prepared, forecast, List.of(), null);
  }

  private long hold(
      List<File> files, boolean replace, Forecast.Sum forecast, List<String> reasons, Actor actor) {
    var names = String.join(", ", files.stream().map(File::name).limit(5).toList());
    var sentence =
        "A brake holds these definitions, and nothing was changed: %s. Somebody else has to release or drop them."
            .formatted(String.join("; ", reasons));
    var content = JSON.writeValueAsBytes(new Content(files, replace));
    return transactions.run(() ->
        held.hold(
            new HeldChanges.Holding(
                "definitions",
                "definitions " + names,
                sentence,
                measured(forecast),
                forecast,
                Map.of("replace", replace ? "yes" : "no")),
            new ByteArrayInputStream(content),
            actor));
  }

  private record Content(List<File> files, boolean replace) {}

  /** Loads held definitions once they are released. */
  private final class Releasing implements HeldChanges.Releasing {
    @Override
    public Permission needs() {
      return Permission.LOAD_DEFINITIONS;
    }

    @Override
    public void check(Map<String, Object> details) {}

    @Override
    public Object release(
        HeldChanges.Released released, Actor actor, Jobs.ProgressReporter reporter) {
      return DefinitionService.this.release(released, actor);
    }
  }

  /** Loads definitions that were held and released, as the world is now. */
  private Object release(HeldChanges.Released released, Actor actor) {
    Authorization.need(actor, Permission.LOAD_DEFINITIONS);
    try (var in = released.content()) {
      var content = JSON.readValue(in, Content.class);
      return load(content.files(), content.replace(), actor, released.allowed());
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /**
   * How the accounts of people would be called, before anything is loaded.
   *
   * @param files definitions to try; none for those in force
   * @param tried worker numbers of people who are known, or facts of people who are not
   */
  public List<Named> names(List<File> files, List<Map<String, String>> tried, Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    if (tried.size() > MOST_TRIED) {
      throw Refused.badInput(
          "%,d people are given to try; give at most %,d.".formatted(tried.size(), MOST_TRIED));
    }
    var catalogue = files.isEmpty() ? catalogues.current() : prepare(files, false).catalogue();
    var planner = planning.trying(catalogue);
    var named = new ArrayList<Named>();
    for (var facts : tried) {
      var person = person(facts, catalogue);
      named.add(
          new Named(person.worker().value(), person.facts().fullName(), planner.tryNames(person)));
    }
    return named;
  }

  private static Person person(Map<String, String> said, Catalogue catalogue) {
    var worker = said.getOrDefault("worker", "T-1");
    var number =
        WorkerNumber.read(worker)
            .orElseThrow(() ->
                Refused.badInput(
                    "The worker number “%s” cannot be used; expected %s."
                        .formatted(worker, WorkerNumber.EXPECTED)));
    var values = new TreeMap<String, Object>();
    said.forEach((key, text) -> {
      if (key.equals("worker")) {
        return;
      }
      var fact = catalogue.facts().get(key);
      if (fact == null) {
        throw Refused.badInput(
            "There is no fact “%s”; the facts are %s."
                .formatted(key, String.join(", ", catalogue.facts().keySet())));
      }
      values.put(
          key,
          fact.type()
              .read(text)
              .orElseThrow(() ->
                  Refused.badInput(
                      "%s is “%s”; expected %s.".formatted(key, text, fact.type().expectation()))));
    });
    return new Person(new PersonId(-1), number, new Facts(values), null);
  }

  private Prepared store(List<File> files, boolean replace, Actor actor) {
    mapper.lockRevision();
    var prepared = prepare(files, replace);
    if (prepared.differences().isEmpty()) {
      return prepared;
    }
    var now = clock.instant();
    var rows = new ArrayList<DefinitionRow>();
    var entries = new ArrayList<LedgerEntry>();
    var byName = new TreeMap<String, Definition>();
    prepared.files().forEach(each -> byName.put(each.name().toString(), each));
    for (var difference : prepared.differences()) {
      var name = difference.kind() + ": " + difference.key();
      var definition = byName.get(name);
      if (definition == null) {
        mapper.drop(difference.kind(), difference.key());
      } else {
        rows.add(
            new DefinitionRow(
                difference.kind(),
                difference.key(),
                JSON.writeValueAsString(definition.body().plain())));
      }
      entries.add(
          new LedgerEntry(
              now,
              actor.login(),
              "",
              "definition:" + difference.kind() + "/" + difference.key(),
              "definition-" + difference.change(),
              Map.of(),
              definition == null ? Map.of() : plain(definition)));
    }
    if (!rows.isEmpty()) {
      mapper.put(rows, now, actor.login());
    }
    mapper.raiseRevision();
    if (prepared.plansChange()) {
      people.dueNow(now, "definitions:" + prepared.catalogue().revision());
    }
    ledger.append(entries);
    return prepared;
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> plain(Definition definition) {
    return (Map<String, Object>) definition.body().plain();
  }

  private Prepared prepare(List<File> files, boolean replace) {
    var problems = new ArrayList<Problem>();
    var read = new LinkedHashMap<Name, Definition>();
    var characters = files.stream().mapToLong(file -> file.text().length()).sum();
    if (files.size() > MOST_FILES || characters > LARGEST) {
      throw Refused.badInput(
          "%,d files with %,d characters are more than can be taken at once: at most %,d files with %,d."
              .formatted(files.size(), characters, MOST_FILES, LARGEST));
    }
    for (var file : files) {
      for (var definition : DefinitionFiles.read(file.name(), file.text(), problems)) {
        var twice = read.put(definition.name(), definition);
        if (twice != null) {
          problems.add(
              new Problem(
                  definition.body().place(),
                  "%s is defined already at %s; keep one."
                      .formatted(definition.name(), twice.body().place())));
        }
      }
    }
    var before = new TreeMap<Name, Definition>();
    catalogues.definitions().forEach(each -> before.put(each.name(), each));
    var after = new TreeMap<Name, Definition>(replace ? Map.of() : before);
    after.putAll(read);
    var result = Catalogue.read(after.values(), mapper.revision() + 1, catalogues.zone());
    problems.addAll(result.problems());
    result.catalogue().ifPresent(made -> problems.addAll(stillInUse(made, read, before)));
    if (!problems.isEmpty()) {
      throw refusal(problems);
    }
    var differences = differences(before, after);
    return new Prepared(
        List.copyOf(read.values()),
        differences,
        plansChange(before, after),
        read.size() - (int) differences.stream().filter(d -> !d.change().equals("dropped")).count(),
        result.catalogue().orElseThrow());
  }

  /** What must not go, at the place where it is said otherwise, or was said. */
  private List<Problem> stillInUse(
      Catalogue after, Map<Name, Definition> said, Map<Name, Definition> known) {
    var current = catalogues.current();
    return inUse.stream()
        .flatMap(each -> each.uses(current, after).stream())
        .map(use -> {
          var where = said.getOrDefault(use.name(), known.get(use.name()));
          return new Problem(Objects.requireNonNull(where).body().place(), use.sentence());
        })
        .toList();
  }

  private static Refused refusal(List<Problem> problems) {
    var sentence =
        problems.size() == 1
            ? "One thing is wrong in the definitions, so nothing was loaded. " + problems.getFirst()
            : problems.size() + " things are wrong in the definitions, so nothing was loaded.";
    return new Refused(
        Refused.Reason.BAD_INPUT,
        sentence,
        problems.stream()
            .limit(MOST_PROBLEMS)
            .map(each -> new Refused.Mistake(each.place().toString(), each.sentence()))
            .toList());
  }

  private static boolean plansChange(Map<Name, Definition> before, Map<Name, Definition> after) {
    for (var definition : after.values()) {
      var was = before.get(definition.name());
      if (was == null || !definition.plansLike(was)) {
        return true;
      }
    }
    return !after.keySet().containsAll(before.keySet());
  }

  private static List<Difference> differences(
      Map<Name, Definition> before, Map<Name, Definition> after) {
    var differences = new ArrayList<Difference>();
    after.forEach((name, definition) -> {
      var was = before.get(name);
      if (was == null) {
        differences.add(new Difference(name.kind(), name.key(), "added"));
      } else if (!definition.saysAs(was)) {
        differences.add(new Difference(name.kind(), name.key(), "changed"));
      }
    });
    before.forEach((name, definition) -> {
      if (!after.containsKey(name)) {
        differences.add(new Difference(name.kind(), name.key(), "dropped"));
      }
    });
    return differences;
  }

  /** All definitions in force as one file. */
  public String dump(Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    var sorted = new ArrayList<>(catalogues.definitions());
    sorted.sort((a, b) -> a.name().compareTo(b.name()));
    return DefinitionFiles.write(sorted);
  }
}
