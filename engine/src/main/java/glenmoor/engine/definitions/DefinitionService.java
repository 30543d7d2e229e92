package glenmoor.engine.definitions;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Tree;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Preparing.Prepared;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.definitions.DefinitionMapper.DefinitionRow;
import glenmoor.store.people.PersonMapper;
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

  private final Catalogues catalogues;
  private final DefinitionMapper mapper;
  private final Preparing preparing;
  private final List<Tables> tables;
  private final PersonMapper people;
  private final DueMarks marks;
  private final PlanPreview planning;
  private final Prerequisites prerequisites;
  private final List<ForecastWarnings> warners;
  private final HeldChanges held;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;
  private final Jobs jobs;
  private final ForecastWork forecastWork = new ForecastWork();
  private final LoadWork loadWork = new LoadWork();

  public DefinitionService(
      Catalogues catalogues,
      DefinitionMapper mapper,
      Preparing preparing,
      List<Tables> tables,
      PersonMapper people,
      DueMarks marks,
      PlanPreview planning,
      Prerequisites prerequisites,
      List<ForecastWarnings> warners,
      HeldChanges held,
      Transactions transactions,
      Ledger ledger,
      Clock clock,
      Jobs jobs) {
    this.catalogues = catalogues;
    this.mapper = mapper;
    this.preparing = preparing;
    this.tables = tables;
    this.people = people;
    this.marks = marks;
    this.planning = planning;
    this.prerequisites = prerequisites;
    this.warners = warners;
    this.held = held;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
    this.jobs = jobs;
    held.carriedOutBy("definitions", new Releasing());
    jobs.doneBy(forecastWork);
    jobs.doneBy(loadWork);
  }

  /**
   * Begins to say what loading would change, and what that would do for people.
   *
   * @param online whether the applications are asked for what must be there beforehand
   * @return the identity of the work; its result is {@link Outcome}
   * @throws Refused with every problem in the files, if there is any
   */
  public long beginForecast(
      List<DefinitionFile> files, boolean replace, boolean online, Actor actor) {
    return begin(
        forecastWork,
        "forecasting ",
        files,
        new Way(replace, online && actor.may(Permission.SEE_DEFINITIONS), null),
        Permission.SEE_DEFINITIONS,
        actor);
  }

  /**
   * Begins to load files, all of them or none.
   *
   * @param why it is kept; needed where a package changes that there was before
   * @return the identity of the work; its result is {@link Outcome}
   * @throws Refused with every problem in the files, if there is any
   */
  public long beginLoad(List<DefinitionFile> files, boolean replace, String why, Actor actor) {
    if (why.length() > StatedReason.LONGEST) {
      throw Refused.badInput(
          "why has at most %,d characters; this has %,d."
              .formatted(StatedReason.LONGEST, why.length()));
    }
    return begin(
        loadWork,
        "loading ",
        files,
        new Way(replace, false, why.strip()),
        Permission.LOAD_DEFINITIONS,
        actor);
  }

  private long begin(
      LongWork<Way> kind,
      String doing,
      List<DefinitionFile> files,
      Way way,
      Permission all,
      Actor actor) {
    // Whatever is wrong in the files is said at once, and to the line.
    var prepared = preparing.prepare(files, way.replace(), all, actor);
    if (all == Permission.LOAD_DEFINITIONS) {
      saysWhy(prepared, way.reason());
    }
    var work = jobs.next();
    try {
      jobs.keep(work, new ByteArrayInputStream(JSON.writeValueAsBytes(files)));
      return jobs.begin(work, kind, doing + "definitions " + names(files), way, actor);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** Whoever has a package can read later why it became another one. */
  private static void saysWhy(Prepared prepared, String why) {
    var changed =
        prepared.differences().stream()
            .filter(each -> each.kind().equals("package") && !each.change().equals("added"))
            .map(Difference::key)
            .toList();
    if (!changed.isEmpty() && why.isEmpty()) {
      throw Refused.badInput(
          "Say why %s %s (--why, or why in the call): it is kept, for those who have it."
              .formatted(
                  changed.size() == 1 ? "the package" : "the packages",
                  String.join(", ", changed) + (changed.size() == 1 ? " changes" : " change")));
    }
  }

  private static String names(List<DefinitionFile> files) {
    return String.join(", ", files.stream().map(DefinitionFile::name).limit(5).toList());
  }

  /** How files are taken. */
  public record Way(boolean replace, boolean online, @Nullable String why) {
    String reason() {
      return Objects.requireNonNullElse(why, "");
    }
  }

  /** What the works on files have in common. */
  private abstract static class FileWork implements LongWork<Way> {
    @Override
    public Class<Way> input() {
      return Way.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Outcome.class);
    }

    List<DefinitionFile> files(WorkProgress progress) {
      try (var in = progress.content()) {
        return List.of(JSON.readValue(in, DefinitionFile[].class));
      } catch (IOException failed) {
        throw new UncheckedIOException(failed);
      }
    }
  }

  private final class ForecastWork extends FileWork {
    @Override
    public String kind() {
      return "definitions-forecast";
    }

    @Override
    public Object run(Way input, Actor actor, WorkProgress progress) {
      return forecast(files(progress), input.replace(), input.online(), actor, progress);
    }
  }

  private final class LoadWork extends FileWork {
    @Override
    public String kind() {
      return "definitions-load";
    }

    @Override
    public Object run(Way input, Actor actor, WorkProgress progress) {
      return load(
          new Content(files(progress), input.replace(), input.why()), actor, Map.of(), progress);
    }
  }

  private Outcome forecast(
      List<DefinitionFile> files,
      boolean replace,
      boolean online,
      Actor actor,
      WorkProgress progress) {
    var prepared = preparing.prepare(files, replace, Permission.SEE_DEFINITIONS, actor);
    var forecast = forecast(prepared, progress);
    var lacking = online ? prerequisites.missing(prepared.catalogue()) : List.<String>of();
    return outcome(prepared, forecast, lacking, null);
  }

  private Outcome outcome(
      Prepared prepared, Forecast.Sum forecast, List<String> lacking, @Nullable Long heldAs) {
    var warnings = new ArrayList<String>();
    if (heldAs == null) {
      warnings.addAll(holds(prepared, forecast, Map.of()));
    }
    warners.forEach(each -> warnings.addAll(each.of(forecast, prepared.catalogue())));
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
    var gaining = forecast.gaining();
    return new Brakes.Measured(
        Map.of(
            Measure.LOSING, forecast.losing(),
            Measure.GAINING, gaining.people(),
            Measure.PRIVILEGED, gaining.privileged(),
            Measure.CONFLICTING, gaining.conflicting()),
        people.countAll());
  }

  private Forecast.Sum forecast(Prepared prepared, WorkProgress progress) {
    if (prepared.concern().nobody()) {
      return new Forecast(prepared.catalogue()).sum();
    }
    var all = marks.everybody();
    var forecast =
        planning.forecast(
            prepared.catalogue(),
            prepared.concern(),
            planned ->
                progress.at(planned, all, "forecasting: %,d people planned".formatted(planned)));
    var unreadable =
        forecast.troubled().stream().filter(each -> each.where().equals("fact")).toList();
    if (!unreadable.isEmpty()) {
      throw Preparing.refusal(
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
  private Outcome load(
      Content content, Actor actor, Map<Measure, Integer> allowed, WorkProgress progress) {
    var before =
        preparing.prepare(content.files(), content.replace(), Permission.LOAD_DEFINITIONS, actor);
    var forecast = forecast(before, progress);
    var reasons = holds(before, forecast, allowed);
    if (!reasons.isEmpty()) {
      return transactions.run(() -> {
        var change = hold(content, forecast, reasons, actor);
        var outcome = outcome(before, forecast, List.of(), change);
        progress.keep(outcome);
        return outcome;
      });
    }
    progress.at(0, 0, "keeping what changed");
    var outcome =
        transactions.run(() -> {
          var loaded = outcome(store(content, actor), forecast, List.of(), null);
          progress.keep(loaded);
          return loaded;
        });
    var all = marks.everybody();
    marks.carryOut(
        looked -> progress.at(looked, all, "marking whom it concerns, to be planned for"));
    return outcome;
  }

  private long hold(Content content, Forecast.Sum forecast, List<String> reasons, Actor actor) {
    var sentence =
        "A brake holds these definitions, and nothing was changed: %s. Somebody else has to release or drop them."
            .formatted(String.join("; ", reasons));
    var kept = JSON.writeValueAsBytes(content);
    return held.hold(
        new HeldChanges.Holding(
            "definitions",
            "definitions " + names(content.files()),
            sentence,
            measured(forecast),
            forecast,
            Map.of("replace", content.replace() ? "yes" : "no")),
        new ByteArrayInputStream(kept),
        actor);
  }

  private record Content(List<DefinitionFile> files, boolean replace, @Nullable String why) {}

  /** Loads held definitions once they are released. */
  private final class Releasing implements HeldChanges.Releasing {
    @Override
    public Permission needs() {
      return Permission.LOAD_DEFINITIONS;
    }

    @Override
    public void check(Map<String, Object> details) {}

    @Override
    public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
      return DefinitionService.this.release(released, actor, progress);
    }

    @Override
    public Class<?> forecast() {
      return Forecast.Sum.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Outcome.class);
    }
  }

  /** Loads definitions that were held and released, as the world is now. */
  private Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    Authorization.need(actor, Permission.LOAD_DEFINITIONS);
    try (var in = released.content()) {
      var content = JSON.readValue(in, Content.class);
      return load(content, actor, released.allowed(), progress);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private Prepared store(Content content, Actor actor) {
    mapper.lockRevision();
    var current = catalogues.current();
    var why = Objects.requireNonNullElse(content.why(), "");
    var prepared =
        preparing.prepare(content.files(), content.replace(), Permission.LOAD_DEFINITIONS, actor);
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
              kept(definition, why)));
    }
    if (!rows.isEmpty()) {
      mapper.put(rows, now, actor.login(), why);
    }
    mapper.raiseRevision();
    tables.forEach(each -> each.follow(current, prepared.catalogue()));
    marks.add(
        "definitions:" + prepared.catalogue().revision(),
        prepared.concern(),
        current,
        prepared.catalogue());
    ledger.append(entries);
    return prepared;
  }

  private static Map<String, Object> kept(@Nullable Definition definition, String why) {
    var kept = new LinkedHashMap<String, Object>();
    if (definition != null) {
      kept.putAll(plain(definition));
    }
    if (!why.isEmpty()) {
      kept.put("why", why);
    }
    return kept;
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> plain(Definition definition) {
    return (Map<String, Object>) definition.body().plain();
  }

  /** All definitions in force as one file. */
  public String dump(Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    var sorted = new ArrayList<>(catalogues.definitions());
    sorted.sort((a, b) -> a.name().compareTo(b.name()));
    return DefinitionFiles.write(sorted);
  }
}
