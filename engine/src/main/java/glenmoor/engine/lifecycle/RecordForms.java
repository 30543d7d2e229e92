package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.lifecycle.CountsLater.Days;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * Records that the people desk writes itself, in a form, and managers where a source lets them:
 * each is a feed of one row, checked and loaded like any other.
 */
@Named
public final class RecordForms {
  /**
   * A form: the source it belongs to, and what it asks for.
   *
   * @param numbers whether worker numbers are made up
   * @param agreed whether somebody new counts only once that was agreed to
   */
  public record Form(
      String source, String name, boolean numbers, boolean agreed, List<FactDefinition> facts) {}

  /**
   * What writing a record came to.
   *
   * @param waits whether they count only once that was agreed to
   */
  public record Entered(String worker, boolean waits, FeedLoading.Loaded loaded) {}

  /** Somebody's record as it was written; nobody's where the worker number is new. */
  public record Written(String worker, boolean known, Map<String, String> facts) {}

  private final RecordWriter writer;
  private final PersonMapper people;
  private final CountsLater later;
  private final WorkerNumbers numbers;
  private final Catalogues catalogues;
  private final Clock clock;

  RecordForms(
      RecordWriter writer,
      PersonMapper people,
      CountsLater later,
      WorkerNumbers numbers,
      Catalogues catalogues,
      Clock clock) {
    this.writer = writer;
    this.people = people;
    this.later = later;
    this.numbers = numbers;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** The forms that the actor may write in. */
  public List<Form> forms(Actor actor) {
    return catalogues.current().sources().values().stream()
        .filter(Source::form)
        .filter(source -> mayWrite(source, actor))
        .map(source ->
            new Form(
                source.key(),
                source.name(),
                source.numbers().isPresent(),
                source.countsBy().isPresent(),
                source.columns().stream()
                    .map(column -> catalogues.current().facts().get(column.fact()))
                    .filter(Objects::nonNull)
                    .toList()))
        .toList();
  }

  private static boolean mayWrite(Source source, Actor actor) {
    return actor.may(Permission.LOAD_FEEDS) || source.byManagers() && actor.worker() != null;
  }

  private Source source(String key, Actor actor) {
    var found = Optional.ofNullable(catalogues.current().sources().get(key)).filter(Source::form);
    if (found.filter(Source::byManagers).isEmpty()) {
      Authorization.need(actor, Permission.LOAD_FEEDS);
    }
    return found
        .filter(source -> mayWrite(source, actor))
        .orElseThrow(() ->
            Refused.notThere(
                "There is no form “%s”: a source has one by form: yes.".formatted(key)));
  }

  /**
   * What was written of somebody.
   *
   * @throws Refused if another source brings them, or they are nobody of the actor's
   */
  public Written show(String key, String worker, Actor actor) {
    var source = source(key, actor);
    var row = people.byWorker(worker);
    if (row == null) {
      return new Written(worker.strip(), false, Map.of());
    }
    isTheirs(row, actor);
    if (!row.source().equals(source.key())) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s (%s) comes from the source %s: what it says is changed there."
              .formatted(row.name(), row.workerNumber(), row.source()));
    }
    var written = new TreeMap<>(said(row));
    later
        .waiting(row)
        .ifPresent(days -> {
          written.put(Facts.START, days.starts().toString());
          if (days.ends() != null) {
            written.put(Facts.END, days.ends().toString());
          }
        });
    return new Written(row.workerNumber(), true, written);
  }

  private Map<String, String> said(PersonRow row) {
    return FactsJson.texts(row.facts(), catalogues.current().facts());
  }

  /** A manager writes of nobody but those who report to them; of others they learn nothing. */
  private void isTheirs(PersonRow row, Actor actor) {
    var facts = FactsJson.read(row.facts(), catalogues.current().facts());
    if (!actor.may(Permission.LOAD_FEEDS) && !isOwn(facts.text(Facts.MANAGER), actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "The number %s is taken; leave it empty to have one made up."
              .formatted(row.workerNumber()));
    }
  }

  private static boolean isOwn(String manager, Actor actor) {
    var own = WorkerNumber.keyOrNone(actor.worker());
    return !own.isEmpty() && own.equals(WorkerNumber.key(manager));
  }

  /**
   * Writes somebody's record. Somebody new whose source says so counts only once that was agreed
   * to.
   *
   * @param worker empty to have a number made up, where the source does that
   * @param facts by key; one that is not said is empty
   * @param reason what they are needed for, where that has to be agreed to
   * @return what it came to
   * @throws Refused if it cannot be used, with what was found and what is expected
   */
  public Entered write(
      String key, String worker, Map<String, String> facts, String reason, Actor actor) {
    var source = source(key, actor);
    if (!actor.may(Permission.LOAD_FEEDS) && !isOwn(facts.getOrDefault(Facts.MANAGER, ""), actor)) {
      throw Refused.badInput(
          "You write records of people who report to you: say your own worker number in %s."
              .formatted(Facts.MANAGER));
    }
    var number = worker.isBlank() ? made(source) : worker.strip();
    show(key, number, actor);
    asksFor(source, facts);
    var row = people.byWorker(number);
    var waits = later.waiting(row);
    var isNew = row == null || isOver(row);
    if (source.countsBy().isEmpty() || !isNew && waits.isEmpty()) {
      if (!actor.may(Permission.LOAD_FEEDS)) {
        throw written(row);
      }
      return new Entered(number, false, writer.load(source, number, facts, actor));
    }
    if (!isNew && !actor.may(Permission.LOAD_FEEDS)) {
      throw written(row);
    }
    var days = days(facts);
    var held = new HashMap<>(facts);
    held.put(Facts.START, Facts.NOT_YET.toString());
    held.put(Facts.END, "");
    var loaded = writer.load(source, number, held, actor);
    if (row != null && waits.isPresent()) {
      later.said(row, days);
    } else {
      later.entered(source, number, days, reason, actor);
    }
    return new Entered(number, true, loaded);
  }

  /** What somebody is agreed to by is not changed behind the back of who agrees. */
  private static Refused written(@Nullable PersonRow row) {
    return new Refused(
        Refused.Reason.NOT_ALLOWED,
        "%s is written already; what it says is changed by the people desk."
            .formatted(row == null ? "That record" : "The record of " + row.name()));
  }

  private boolean isOver(PersonRow row) {
    var catalogue = catalogues.current();
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var standing = Standing.of(FactsJson.person(row, catalogue.facts()), today);
    return standing.isGone() || isHeld(row) && later.waiting(row).isEmpty();
  }

  /** Whether somebody's record was held back and nobody was asked about it: a service died. */
  private boolean isHeld(PersonRow row) {
    return Facts.NOT_YET.toString().equals(said(row).get(Facts.START));
  }

  private Days days(Map<String, String> facts) {
    var starts = day(Facts.START, facts);
    var ends = day(Facts.END, facts);
    var today = clock.instant().atZone(catalogues.current().zone()).toLocalDate();
    var first = starts == null ? today : starts;
    if (ends != null && ends.isBefore(first)) {
      throw Refused.badInput(
          "%s is “%s”; expected is a date not before %s.".formatted(Facts.END, ends, first));
    }
    return new Days(first, ends);
  }

  private static @Nullable LocalDate day(String fact, Map<String, String> facts) {
    var text = facts.getOrDefault(fact, "").strip();
    try {
      return text.isEmpty() ? null : LocalDate.parse(text);
    } catch (DateTimeException noDay) {
      throw Refused.badInput(
          "%s is “%s”; expected is a date such as 2027-03-14.".formatted(fact, text));
    }
  }

  private String made(Source source) {
    return numbers
        .next(source)
        .orElseThrow(
            () -> Refused.badInput("Say the worker number: it is who the record is about."));
  }

  private static void asksFor(Source source, Map<String, String> facts) {
    var asked = source.columns().stream().map(Source.Column::fact).toList();
    facts.keySet().stream()
        .filter(fact -> !asked.contains(fact))
        .findFirst()
        .ifPresent(unknown -> {
          throw Refused.badInput(
              "The form does not ask for “%s”; it asks for %s."
                  .formatted(unknown, String.join(", ", asked)));
        });
  }
}
