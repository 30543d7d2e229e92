package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.lifecycle.Detected;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.lifecycle.ManagerChain;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;

/**
 * Reads one file of a source against what is known.
 *
 * <p>Each row is first compared by a digest of its fields: most rows of a feed are as they were the
 * last time, and of these only the worker number and the manager are looked at. The others are
 * checked and given, in batches, to whoever keeps or forecasts them. The chain of managers can be
 * judged only when all rows were seen; in the rare case that it sets rows aside, what was given is
 * taken back and the file is read once more without them. Memory grows by a few words a row, never
 * by a person.
 */
final class FeedReading {
  /** What a decoder puts where bytes are not UTF-8 (Unicode, section 3.9). */
  private static final char UNREADABLE = '\uFFFD';

  private static final int BATCH = 500;
  private static final int TELL_EVERY = 5_000;
  private static final int MOST_REJECTS = 100_000;

  /** So many rows may be rejected without making absence from the file doubtful. */
  private static final int FEW = 10;

  /** … or, in a large file, one in so many. */
  private static final int FEW_OF = 50;

  /** Rises when the checks on rows change, so that every row is looked at once more. */
  private static final int RULES = 2;

  /**
   * One person of whom something else is said than before.
   *
   * @param before as known, or null for somebody new
   * @param detected what it means; null where the row is written differently but says the same
   * @param digest of the row, or null for somebody no row names any more
   */
  record Change(
      @Nullable Person before,
      Person after,
      @Nullable Detected detected,
      KnownWorkers.@Nullable Digest digest) {}

  /** Takes the changes of one feed, a batch at a time. */
  interface Changes {
    void take(List<Change> batch);

    /** These are not named by a full feed, and have not left by that yet. */
    default void missed(List<Long> people) {}

    /** Forgets all that was taken: it will be given again, without the rejected rows since. */
    void startOver();
  }

  /**
   * What reading came to.
   *
   * @param missing how many a full feed no longer names, and who have left by that
   * @param waiting how many it does not name either, but too few feeds in a row did not
   * @param people of how many it speaks: those the source has brought, or those it brings now
   * @param unproven why absence from it proves nothing; empty where it does
   * @param hint what may be wrong with the file as a whole; empty if nothing
   */
  record Sum(
      int rows,
      List<Reject> rejects,
      Map<String, Integer> counts,
      int missing,
      int waiting,
      int people,
      String unproven,
      String hint) {
    /** How many rows were rejected; a row may be rejected for several reasons. */
    int aside() {
      return FeedReading.aside(rejects);
    }
  }

  private final Source source;
  private final Catalogue catalogue;
  private final PersonMapper people;
  private final KnownWorkers known;
  private final LocalDate today;
  private final LongSupplier ids;
  private final WorkProgress reporter;
  private final List<Reject> rejects = new ArrayList<>();
  private final Map<String, Long> rejectedLines = new HashMap<>();
  private final Map<String, Integer> counts = new HashMap<>();
  private final Set<Long> badLines = new HashSet<>();
  private final Set<String> others = new HashSet<>();
  private final Function<String, KnownWorkers.Digest> reader;
  private final MissingPeople missing;
  private int rows;
  private int unreadable;
  private int unreadableBytes;
  private boolean brokenTail;

  FeedReading(
      Source source,
      Catalogue catalogue,
      PersonMapper people,
      KnownWorkers known,
      LocalDate today,
      LongSupplier ids,
      WorkProgress reporter) {
    this.source = source;
    this.catalogue = catalogue;
    this.people = people;
    this.known = known;
    this.today = today;
    this.ids = ids;
    this.reporter = reporter;
    reader = known.after(readBy(source, catalogue));
    missing = new MissingPeople(source, catalogue, people, today);
  }

  /** The definitions that read a file, in bytes that are the same on every machine. */
  static String readBy(Source source, Catalogue catalogue) {
    var columns =
        source.columns().stream()
            .map(column ->
                Map.of(
                    "column", column.column(),
                    "fact", column.fact(),
                    "values", column.values(),
                    "keeps", column.keepsOthers()))
            .toList();
    var facts = new TreeMap<String, Object>();
    catalogue
        .facts()
        .forEach((key, fact) ->
            facts.put(
                key,
                Map.of(
                    "type", fact.type().word(),
                    "required", fact.required(),
                    "onChange", fact.onChange().word(),
                    "longest", fact.longest())));
    return CanonicalJson.write(
        Map.of(
            "rules",
            RULES,
            "mode",
            source.mode().word(),
            "separator",
            String.valueOf(source.separator()),
            "worker",
            source.workerColumn(),
            "columns",
            columns,
            "facts",
            facts));
  }

  /**
   * Reads the file.
   *
   * @throws CsvFile.Broken if the file as a whole cannot be used
   * @throws RowCheck.BadHeading if a mandatory column is missing
   */
  Sum read(CsvFile file, Changes changes) {
    var chain = new ManagerChain();
    pass(file, new FirstPass(chain, new Sorter(changes)));
    if (rows == 0) {
      throw new CsvFile.Broken(
          "The file has a heading and no row. Nothing was changed: was it cut off on its way here?");
    }
    var people = Math.max(known.present(), rows);
    var badManagers = chain.check(managerColumn(), known::isKnown, rejectedLines);
    if (!badManagers.isEmpty()) {
      badManagers.forEach(this::aside);
      counts.clear();
      changes.startOver();
      pass(file, new SecondPass(new Sorter(changes)));
    }
    rejects.sort(Comparator.comparingLong(Reject::line));
    var unproven = source.mode() == Source.Mode.FULL ? unproven() : "";
    if (source.mode() == Source.Mode.FULL && unproven.isEmpty()) {
      var ids = new ArrayList<Long>();
      known.missing(ids::add);
      missing.judge(ids, changes, this::count);
    }
    return new Sum(
        rows, rejects, counts, missing.gone(), missing.waiting(), people, unproven, hint());
  }

  /** Why somebody whom the file does not name may be in it all the same. */
  private String unproven() {
    var aside = aside(rejects);
    if (brokenTail) {
      return "its last row breaks off";
    }
    if (unreadable > 0) {
      return Counted.rows(unreadable, "has", "have") + " no worker number that can be read";
    }
    return aside > Math.max(FEW, rows / FEW_OF)
        ? Counted.rows(aside, "was", "were") + " rejected"
        : "";
  }

  private String hint() {
    return unreadableBytes > 0
        ? Counted.rows(unreadableBytes, "is", "are")
            + " not UTF-8: was the file saved in another encoding, such as Windows-1252?"
        : "";
  }

  private static int aside(List<Reject> rejects) {
    return (int) rejects.stream().mapToLong(Reject::line).distinct().count();
  }

  private static void pass(CsvFile file, Pass pass) {
    file.read(pass);
    pass.sorter.flush();
  }

  private String managerColumn() {
    return source.columns().stream()
        .filter(column -> column.fact().equals(Facts.MANAGER))
        .map(Source.Column::column)
        .findFirst()
        .orElse(Facts.MANAGER);
  }

  private void aside(Reject reject) {
    if (rejects.size() < MOST_REJECTS) {
      rejects.add(reject);
    }
    rejectedLines.putIfAbsent(WorkerNumber.key(reject.worker()), reject.line());
  }

  private void count(EventKind kind) {
    counts.merge(kind.word(), 1, Integer::sum);
  }

  /** What both passes over the file have in common: the heading, and telling how far it is. */
  private abstract class Pass implements CsvFile.Rows {
    protected final Sorter sorter;
    private @Nullable RowCheck check;
    private int done;

    Pass(Sorter sorter) {
      this.sorter = sorter;
    }

    @Override
    public void heading(List<String> columns) {
      check = new RowCheck(source, catalogue.facts(), columns);
    }

    @Override
    public void row(long line, List<String> fields) {
      done++;
      if (done % TELL_EVERY == 0) {
        reporter.at(done, rows, done + " rows read");
      }
      if (check != null) {
        row(check, line, fields);
      }
    }

    abstract void row(RowCheck check, long line, List<String> fields);

    /** Of the definitions that read the file and of the fields: if either changes, so does this. */
    KnownWorkers.Digest digest(List<String> fields) {
      return reader.apply(String.join("\u001f", fields));
    }
  }

  private final class FirstPass extends Pass {
    private final ManagerChain chain;

    FirstPass(ManagerChain chain, Sorter sorter) {
      super(sorter);
      this.chain = chain;
    }

    @Override
    void row(RowCheck check, long line, List<String> fields) {
      rows++;
      var number = check.worker(fields);
      var worker = number == null ? null : number.value();
      var found = worker == null ? -1 : known.find(worker);
      brokenTail = fields.size() < check.width();
      if (fields.stream().anyMatch(field -> field.indexOf(UNREADABLE) >= 0)) {
        unreadableBytes++;
      }
      known.see(found);
      var digest = digest(fields);
      if (worker != null && known.isAsBefore(found, digest)) {
        first(worker, check.manager(fields), line);
        return;
      }
      switch (check.check(line, fields)) {
        case RowCheck.Result.Bad bad -> {
          if (worker == null) {
            unusable(bad.worker());
          }
          bad.rejects().forEach(FeedReading.this::aside);
          badLines.add(line);
        }
        case RowCheck.Result.Good good -> {
          if (first(good.worker().value(), good.facts().text(Facts.MANAGER), line)) {
            sorter.sort(line, good, found, digest);
          }
        }
      }
    }

    /** A row of the wrong width still names somebody, if what it begins with can be read. */
    private void unusable(String named) {
      WorkerNumber.read(named)
          .ifPresentOrElse(number -> known.see(known.find(number.value())), () -> unreadable++);
    }

    /** Whether the worker number stands here for the first time; otherwise the row is rejected. */
    private boolean first(String worker, String manager, long line) {
      var earlier = chain.add(worker, manager, line);
      if (earlier > 0) {
        rejects.add(
            new Reject(
                line,
                worker,
                source.workerColumn(),
                worker,
                "a worker number once; it stands on line %d already, and that row counts"
                    .formatted(earlier)));
        badLines.add(line);
      }
      return earlier == 0;
    }
  }

  /** Reads again what the first pass found good, but for whoever was rejected since. */
  private final class SecondPass extends Pass {
    SecondPass(Sorter sorter) {
      super(sorter);
    }

    @Override
    void row(RowCheck check, long line, List<String> fields) {
      var worker = check.worker(fields);
      if (worker == null || badLines.contains(line) || rejectedLines.containsKey(worker.key())) {
        return;
      }
      var found = known.find(worker.value());
      var digest = digest(fields);
      if (!known.isAsBefore(found, digest)
          && check.check(line, fields) instanceof RowCheck.Result.Good good) {
        sorter.sort(line, good, found, digest);
      }
    }
  }

  private record Said(long line, RowCheck.Result.Good row, KnownWorkers.Digest digest) {}

  /** Sorts good rows into new and changed. */
  private final class Sorter {
    private final Changes changes;
    private final List<Change> joiners = new ArrayList<>();
    private final Map<String, Said> changed = new HashMap<>();

    Sorter(Changes changes) {
      this.changes = changes;
    }

    void sort(long line, RowCheck.Result.Good good, int found, KnownWorkers.Digest digest) {
      if (found < 0) {
        joiner(good, digest);
      } else {
        changed.put(good.worker().key(), new Said(line, good, digest));
      }
      if (joiners.size() >= BATCH || changed.size() >= BATCH) {
        flush();
      }
    }

    private void joiner(RowCheck.Result.Good good, KnownWorkers.Digest digest) {
      var person = new Person(new PersonId(ids.getAsLong()), good.worker(), good.facts(), null);
      Detected.between(null, person, catalogue.facts(), today)
          .ifPresent(detected -> joiners.add(new Change(null, person, detected, digest)));
      count(EventKind.JOINER);
    }

    void flush() {
      if (!joiners.isEmpty()) {
        changes.take(List.copyOf(joiners));
        joiners.clear();
      }
      if (!changed.isEmpty()) {
        changes.take(compared());
        changed.clear();
      }
    }

    private List<Change> compared() {
      var batch = new ArrayList<Change>();
      for (var row : people.byWorkers(changed.keySet())) {
        var said = changed.get(WorkerNumber.key(row.workerNumber()));
        if (said == null) {
          continue;
        }
        var before = FactsJson.person(row, catalogue.facts());
        if (!row.source().equals(source.key()) && !MissingPeople.hasLeft(before, today)) {
          others(row, said);
          continue;
        }
        var after = before.knownAgain().withFacts(said.row().facts()).absentFrom(null);
        if (before.erasedOn() != null && Standing.of(after, today).isGone()) {
          // An old row of somebody who was erased brings nothing back.
          continue;
        }
        var detected = Detected.between(before, after, catalogue.facts(), today).orElse(null);
        batch.add(new Change(before, after, detected, said.digest()));
        if (detected != null) {
          detected.events(today).forEach(each -> count(each.kind()));
        }
      }
      return batch;
    }
  }

  /** Somebody whom another source brings belongs to that one until they have left there. */
  private void others(PersonRow row, Said said) {
    if (others.add(row.workerNumber())) {
      var owner = catalogue.sources().get(row.source());
      aside(
          new Reject(
              said.line(),
              row.workerNumber(),
              source.workerColumn(),
              row.workerNumber(),
              "a worker number of this source; %s belongs to %s, and may come from here once they have left there"
                  .formatted(row.name(), owner == null ? row.source() : owner.name())));
    }
  }
}
