package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.definitions.Problem;
import glenmoor.engine.Refused;
import glenmoor.store.definitions.DefinitionMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;

/** Reads files of definitions, and holds them against those in force. */
@Named
public final class Preparing {
  private static final int MOST_FILES = 500;
  private static final long LARGEST = 16L << 20;
  private static final int MOST_PROBLEMS = 200;

  /**
   * Files without a problem.
   *
   * @param concern whose plans may become others
   * @param unchanged how many say what is in force already
   * @param catalogue what would be in force
   */
  record Prepared(
      List<Definition> files,
      List<Difference> differences,
      Concern concern,
      int unchanged,
      Catalogue catalogue) {}

  private final Catalogues catalogues;
  private final DefinitionMapper mapper;
  private final List<InUse> inUse;

  public Preparing(Catalogues catalogues, DefinitionMapper mapper, List<InUse> inUse) {
    this.catalogues = catalogues;
    this.mapper = mapper;
    this.inUse = inUse;
  }

  /**
   * Reads files as they would be in force.
   *
   * @param replace whether what is not in them is dropped
   * @param all the permission without which the actor may read only some kinds
   * @throws Refused with every problem in them, if there is any
   */
  Prepared prepare(List<DefinitionFile> files, boolean replace, Permission all, Actor actor) {
    WhoLoads.any(actor, all);
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
    WhoLoads.each(actor, all, read.values(), before, replace);
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
        concerned(before, after),
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

  static Refused refusal(List<Problem> problems) {
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

  private static Concern concerned(Map<Name, Definition> before, Map<Name, Definition> after) {
    var concern = Concern.NOBODY;
    for (var definition : after.values()) {
      var was = before.get(definition.name());
      if (was == null) {
        concern = concern.and(definition.concern());
      } else if (!definition.plansLike(was)) {
        // Whom it concerned and whom it concerns now may be different people.
        concern = concern.and(was.concern()).and(definition.concern());
      }
    }
    for (var was : before.values()) {
      if (!after.containsKey(was.name())) {
        concern = concern.and(was.concern());
      }
    }
    return concern;
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
}
