package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.FactDefinition;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Records that the people desk writes itself, in a form: each is a feed of one row, checked and
 * loaded like any other.
 */
@Named
public final class RecordForms {
  /** A form: the source it belongs to, and what it asks for. */
  public record Form(String source, String name, List<FactDefinition> facts) {}

  /** Somebody's record as it was written; nobody's where the worker number is new. */
  public record Written(String worker, boolean known, Map<String, String> facts) {}

  private final OneRow rows;
  private final PersonMapper people;
  private final Catalogues catalogues;

  RecordForms(OneRow rows, PersonMapper people, Catalogues catalogues) {
    this.rows = rows;
    this.people = people;
    this.catalogues = catalogues;
  }

  /** The forms there are. */
  public List<Form> forms(Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    return catalogues.current().sources().values().stream()
        .filter(Source::form)
        .map(source ->
            new Form(
                source.key(),
                source.name(),
                source.columns().stream()
                    .map(column -> catalogues.current().facts().get(column.fact()))
                    .filter(Objects::nonNull)
                    .toList()))
        .toList();
  }

  private Source source(String key, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    return Optional.ofNullable(catalogues.current().sources().get(key))
        .filter(Source::form)
        .orElseThrow(() ->
            Refused.notThere(
                "There is no form “%s”: a source has one by form: yes.".formatted(key)));
  }

  /**
   * What was written of somebody.
   *
   * @throws Refused if another source brings them
   */
  public Written show(String key, String worker, Actor actor) {
    var source = source(key, actor);
    var row = people.byWorker(worker);
    if (row == null) {
      return new Written(worker.strip(), false, Map.of());
    }
    if (!row.source().equals(source.key())) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s (%s) comes from the source %s: what it says is changed there."
              .formatted(row.name(), row.workerNumber(), row.source()));
    }
    var written = new TreeMap<String, String>();
    FactsJson.read(row.facts(), catalogues.current().facts())
        .values()
        .forEach((fact, value) -> written.put(fact, String.valueOf(value)));
    return new Written(row.workerNumber(), true, written);
  }

  /**
   * Writes somebody's record.
   *
   * @param facts by key; one that is not said is empty
   * @return what it came to
   * @throws Refused if it cannot be used, with what was found and what is expected
   */
  public FeedLoading.Loaded write(
      String key, String worker, Map<String, String> facts, Actor actor) {
    var source = source(key, actor);
    if (worker.isBlank()) {
      throw Refused.badInput("Say the worker number: it is who the record is about.");
    }
    show(key, worker, actor);
    var heading = new ArrayList<>(List.of(source.workerColumn()));
    var cells = new ArrayList<>(List.of(worker.strip()));
    for (var column : source.columns()) {
      heading.add(column.column());
      cells.add(Objects.requireNonNullElse(facts.get(column.fact()), "").strip());
    }
    var asked = source.columns().stream().map(Source.Column::fact).toList();
    facts.keySet().stream()
        .filter(fact -> !asked.contains(fact))
        .findFirst()
        .ifPresent(unknown -> {
          throw Refused.badInput(
              "The form does not ask for “%s”; it asks for %s."
                  .formatted(unknown, String.join(", ", asked)));
        });
    return rows.load(source, "form", OneRow.text(source, List.of(heading, cells)), actor);
  }
}
