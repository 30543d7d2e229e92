package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
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
import glenmoor.engine.progress.Progress;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;

/**
 * Reads one file of a source against what is known.
 *
 * <p>The first pass checks each row by itself and keeps of it only the worker number and the
 * manager; the chain of managers can be judged once all rows were seen. The second pass gives the
 * good rows that are new or changed, in batches, to whoever keeps or forecasts them. Rows as they
 * were before are told apart by digest alone. Memory grows with the number of rows by a few words
 * each, never by a person.
 */
final class FeedReading {
  private static final int BATCH = 500;
  private static final int TELL_EVERY = 5_000;
  private static final int MOST_REJECTS = 100_000;

  /** One person for whom the feed means something. */
  record Change(
      @Nullable Person before,
      Person after,
      Detected detected,
      KnownWorkers.@Nullable Digest digest) {}

  /** Takes the changes of one feed, a batch at a time. */
  interface Changes {
    void take(List<Change> batch);
  }

  /** What reading came to. */
  record Sum(int rows, List<Reject> rejects, Map<String, Integer> counts) {}

  private final Source source;
  private final Catalogue catalogue;
  private final PersonMapper people;
  private final KnownWorkers known;
  private final LocalDate today;
  private final LongSupplier ids;
  private final Progress.Teller teller;
  private final List<Reject> rejects = new ArrayList<>();
  private final Map<String, Long> setAside = new HashMap<>();
  private final Map<String, Integer> counts = new HashMap<>();
  private final Set<Long> repeated = new HashSet<>();
  private int rows;

  FeedReading(
      Source source,
      Catalogue catalogue,
      PersonMapper people,
      KnownWorkers known,
      LocalDate today,
      LongSupplier ids,
      Progress.Teller teller) {
    this.source = source;
    this.catalogue = catalogue;
    this.people = people;
    this.known = known;
    this.today = today;
    this.ids = ids;
    this.teller = teller;
  }

  /**
   * Reads the file.
   *
   * @throws CsvFile.Broken if the file as a whole cannot be used
   * @throws RowCheck.BadHeading if a mandatory column is missing
   */
  Sum read(CsvFile file, Changes changes) {
    firstPass(file);
    var sorter = new Sorter(changes);
    file.read(new SecondPass(sorter));
    sorter.flush();
    if (source.mode() == Source.Mode.FULL) {
      missing(changes);
    }
    rejects.sort((a, b) -> Long.compare(a.line(), b.line()));
    return new Sum(rows, rejects, counts);
  }

  private void firstPass(CsvFile file) {
    var chain = new ManagerChain();
    file.read(new FirstPass(chain));
    if (rows == 0) {
      throw new CsvFile.Broken(
          "The file has a heading and no row. Nothing was changed: was it cut off on its way here?");
    }
    var managerColumn =
        source.columns().stream()
            .filter(column -> column.fact().equals(Facts.MANAGER))
            .map(Source.Column::column)
            .findFirst()
            .orElse(Facts.MANAGER);
    for (var reject : chain.check(managerColumn, known::isKnown, setAside)) {
      aside(reject);
    }
  }

  private void aside(Reject reject) {
    if (rejects.size() < MOST_REJECTS) {
      rejects.add(reject);
    }
    setAside.putIfAbsent(reject.worker(), reject.line());
  }

  private void count(EventKind kind) {
    counts.merge(kind.word(), 1, Integer::sum);
  }

  private final class FirstPass implements CsvFile.Rows {
    private final ManagerChain chain;
    private @Nullable RowCheck check;

    FirstPass(ManagerChain chain) {
      this.chain = chain;
    }

    @Override
    public void heading(List<String> columns) {
      check = new RowCheck(source, catalogue.facts(), columns);
    }

    @Override
    public void row(long line, List<String> fields) {
      if (check == null) {
        return;
      }
      rows++;
      if (rows % TELL_EVERY == 0) {
        teller.at(rows, 0, rows + " rows checked");
      }
      switch (check.check(line, fields)) {
        case RowCheck.Result.Bad bad -> {
          known.see(bad.worker());
          bad.rejects().forEach(FeedReading.this::aside);
        }
        case RowCheck.Result.Good good -> {
          var worker = good.worker().value();
          known.see(worker);
          var earlier = chain.add(worker, good.facts().text(Facts.MANAGER), line);
          if (earlier > 0) {
            rejects.add(
                new Reject(
                    line,
                    worker,
                    source.workerColumn(),
                    worker,
                    "a worker number once; it stands on line "
                        + earlier
                        + " already, and that row counts"));
            repeated.add(line);
          }
        }
      }
    }
  }

  private final class SecondPass implements CsvFile.Rows {
    private final Sorter sorter;
    private @Nullable RowCheck check;
    private int done;

    SecondPass(Sorter sorter) {
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
        teller.at(done, rows, done + " of " + rows + " rows compared");
      }
      if (check != null
          && !repeated.contains(line)
          && check.check(line, fields) instanceof RowCheck.Result.Good good
          && !setAside.containsKey(good.worker().value())) {
        sorter.sort(good);
      }
    }
  }

  /** Sorts good rows into new, changed and as before. */
  private final class Sorter {
    private final Changes changes;
    private final List<Change> joiners = new ArrayList<>();
    private final Map<String, RowCheck.Result.Good> changed = new HashMap<>();

    Sorter(Changes changes) {
      this.changes = changes;
    }

    void sort(RowCheck.Result.Good good) {
      var worker = good.worker().value();
      var digest = known.digest(FactsJson.write(good.facts()));
      if (!known.isKnown(worker)) {
        joiner(good, digest);
      } else if (!known.isAsBefore(worker, digest)) {
        changed.put(worker, good);
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
        var good = changed.get(row.workerNumber());
        if (good == null) {
          continue;
        }
        var before = FactsJson.person(row, catalogue.facts());
        var after = before.withFacts(good.facts()).absentFrom(null);
        Detected.between(before, after, catalogue.facts(), today)
            .ifPresent(detected -> {
              var digest = known.digest(FactsJson.write(good.facts()));
              batch.add(new Change(before, after, detected, digest));
              count(detected.kind());
            });
      }
      return batch;
    }
  }

  /** In a full feed, whoever is known and not named has left, unless they had already. */
  private void missing(Changes changes) {
    var ids = new ArrayList<Long>();
    known.missing(ids::add);
    for (var from = 0; from < ids.size(); from += BATCH) {
      var rowsOf = people.byIds(ids.subList(from, Math.min(from + BATCH, ids.size())));
      var batch = rowsOf.stream().flatMap(row -> gone(row).stream()).toList();
      if (!batch.isEmpty()) {
        changes.take(batch);
      }
    }
  }

  private List<Change> gone(PersonRow row) {
    var before = FactsJson.person(row, catalogue.facts());
    if (Standing.of(before, today) == Standing.LEFT) {
      return List.of();
    }
    return Detected.between(before, before.absentFrom(today), catalogue.facts(), today)
        .map(detected -> {
          count(detected.kind());
          return new Change(before, before.absentFrom(today), detected, null);
        })
        .map(List::of)
        .orElse(List.of());
  }
}
