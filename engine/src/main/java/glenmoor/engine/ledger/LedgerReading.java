package glenmoor.engine.ledger;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerSearch;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.names.NameSearch;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** The ledger as people read it: entries about people have their names, and are found by them. */
@Named
public final class LedgerReading {
  private static final String PERSON = "person:";
  private static final int MOST_NAMESAKES = 50;

  /**
   * What is asked for.
   *
   * @param about a subject such as {@code feed:12}, or a part of a name, or the beginning of a
   *     worker number; null for all
   */
  public record Asked(
      @Nullable String about,
      @Nullable String by,
      @Nullable String what,
      @Nullable Instant beforeAt,
      @Nullable Long beforeId,
      int limit) {}

  /**
   * One entry.
   *
   * @param name of the person it is about, as they are called today; null for other things
   */
  public record Read(KeptEntry entry, @Nullable String name) {}

  private final Ledger ledger;
  private final PersonMapper people;
  private final NameSearch names;

  public LedgerReading(Ledger ledger, PersonMapper people, NameSearch names) {
    this.ledger = ledger;
    this.people = people;
    this.names = names;
  }

  /** Entries, newest first. */
  public List<Read> search(Asked asked, Actor actor) {
    Authorization.need(actor, Permission.READ_LEDGER);
    var entries =
        ledger.search(
            new LedgerSearch(
                subjects(asked.about()),
                asked.by(),
                asked.what(),
                asked.beforeAt(),
                asked.beforeId(),
                asked.limit()),
            actor);
    var names = names(entries);
    return entries.stream()
        .map(entry -> new Read(entry, names.get(worker(entry.subject()))))
        .toList();
  }

  private @Nullable List<String> subjects(@Nullable String about) {
    if (about == null || about.isBlank()) {
      return null;
    }
    var text = about.strip();
    if (text.contains(":")) {
      return List.of(text);
    }
    var found =
        names.list(
            PersonSearch.first(
                text,
                people.isWorker(text),
                Map.of(),
                null,
                LocalDate.EPOCH,
                null,
                MOST_NAMESAKES));
    // Whoever is nobody's name may be somebody's sign-in.
    return Stream.concat(
            found.stream().map(row -> PERSON + row.workerNumber()), Stream.of("login:" + text))
        .toList();
  }

  private Map<String, String> names(List<KeptEntry> entries) {
    var workers =
        entries.stream()
            .map(entry -> worker(entry.subject()))
            .filter(worker -> !worker.isEmpty())
            .distinct()
            .toList();
    var names = new HashMap<String, String>();
    List<PersonRow> rows = workers.isEmpty() ? List.of() : people.byWorkers(workers);
    rows.forEach(row -> names.put(WorkerNumber.key(row.workerNumber()), row.name()));
    return names;
  }

  /** The key of the worker number an entry is about; empty for other subjects. */
  private static String worker(String subject) {
    return subject.startsWith(PERSON) ? WorkerNumber.key(subject.substring(PERSON.length())) : "";
  }
}
