package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.definitions.Definitions;
import glenmoor.core.definitions.Problem;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Allow;
import glenmoor.engine.provisioning.Planning;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.definitions.DefinitionMapper.DefinitionRow;
import glenmoor.store.people.PersonMapper;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import tools.jackson.databind.json.JsonMapper;

/** Checking, comparing, loading and dumping definitions. Loading is all or nothing. */
public final class DefinitionDesk {
  private static final JsonMapper JSON = JsonMapper.shared();

  /** A file as it was sent. */
  public record File(String name, String text) {}

  /** What is different in a definition: {@code added}, {@code changed} or {@code dropped}. */
  public record Difference(String kind, String key, String change) {}

  /** What loading would do or did. */
  public record Outcome(List<Difference> differences, int unchanged, Forecast.Sum forecast) {}

  private record Prepared(
      List<Definition> files,
      List<Difference> differences,
      boolean plansChange,
      int unchanged,
      Catalogue catalogue) {}

  private final Catalogues catalogues;
  private final DefinitionMapper mapper;
  private final InUse inUse;
  private final PersonMapper people;
  private final Planning planning;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  public DefinitionDesk(
      Catalogues catalogues,
      DefinitionMapper mapper,
      InUse inUse,
      PersonMapper people,
      Planning planning,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.catalogues = catalogues;
    this.mapper = mapper;
    this.inUse = inUse;
    this.people = people;
    this.planning = planning;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * What loading would change, and what that would do for people.
   *
   * @throws Refused with every problem in the files, if there is any
   */
  public Outcome forecast(List<File> files, boolean replace, Actor actor) {
    Allow.seeingDefinitions(actor);
    var prepared = prepare(files, replace);
    return new Outcome(prepared.differences(), prepared.unchanged(), forecast(prepared));
  }

  private Forecast.Sum forecast(Prepared prepared) {
    return prepared.plansChange()
        ? planning.forecastAll(prepared.catalogue())
        : new Forecast().sum();
  }

  /** Loads files: all of them or, with any problem, none. */
  public Outcome load(List<File> files, boolean replace, Actor actor) {
    Allow.definingThings(actor);
    var forecast = forecast(prepare(files, replace));
    var prepared = transactions.run(() -> store(files, replace, actor));
    return new Outcome(prepared.differences(), prepared.unchanged(), forecast);
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
    var result = Definitions.read(after.values(), mapper.revision() + 1, catalogues.zone());
    problems.addAll(result.problems());
    result
        .catalogue()
        .ifPresent(
            made -> problems.addAll(inUse.problems(catalogues.current(), made, read, before)));
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

  private static Refused refusal(List<Problem> problems) {
    var sentence =
        problems.size() == 1
            ? "One thing is wrong in the definitions, so nothing was loaded. " + problems.getFirst()
            : problems.size() + " things are wrong in the definitions, so nothing was loaded.";
    return new Refused(
        Refused.Reason.BAD_INPUT,
        sentence,
        problems.stream()
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
        differences.add(new Difference(name.kind().word(), name.key(), "added"));
      } else if (!definition.saysAs(was)) {
        differences.add(new Difference(name.kind().word(), name.key(), "changed"));
      }
    });
    before.forEach((name, definition) -> {
      if (!after.containsKey(name)) {
        differences.add(new Difference(name.kind().word(), name.key(), "dropped"));
      }
    });
    return differences;
  }

  /** All definitions in force as one file. */
  public String dump(Actor actor) {
    Allow.seeingDefinitions(actor);
    var sorted = new ArrayList<>(catalogues.definitions());
    sorted.sort((a, b) -> a.name().compareTo(b.name()));
    return DefinitionFiles.write(sorted);
  }
}
