package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.partners.PartnerOrganisationKind;
import glenmoor.core.people.Facts;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.lifecycle.RecordWriter;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.Until;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Nobody of a partner organisation is here for longer than it is: where its last day is moved
 * closer, the records of its people end with it. A later last day extends nobody: that takes an
 * ask.
 */
@Named
public final class OrganisationEnds implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(OrganisationEnds.class);
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration LOOK = Duration.ofSeconds(20);
  private static final int BATCH = 200;

  private final PartnerMapper partners;
  private final PersonMapper people;
  private final RecordWriter records;
  private final Catalogues catalogues;

  OrganisationEnds(
      PartnerMapper partners, PersonMapper people, RecordWriter records, Catalogues catalogues) {
    this.partners = partners;
    this.people = people;
    this.records = records;
    this.catalogues = catalogues;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "partner-ends", "ends people with their partner organisation", LOOK, this::carryOut));
  }

  /** Ends the records that are too long; one that cannot be written keeps none of the others. */
  public int carryOut() {
    var catalogue = catalogues.current();
    var organisations =
        catalogue.defined().all(PartnerOrganisationKind.class).values().stream()
            .map(each -> new Until(each.key(), each.until().toString()))
            .toList();
    if (organisations.isEmpty()) {
      return 0;
    }
    var written = JSON.writeValueAsString(organisations);
    var ended = 0;
    var after = 0L;
    List<PartnerMapper.Overstaying> batch;
    do {
      batch = partners.overstaying(written, after, BATCH);
      for (var each : batch) {
        after = each.personId();
        ended += end(each.personId(), each.until(), catalogue) ? 1 : 0;
      }
    } while (batch.size() == BATCH);
    return ended;
  }

  private boolean end(long id, LocalDate until, Catalogue catalogue) {
    var person = people.byIds(List.of(id)).getFirst();
    try {
      var source = catalogue.sources().get(person.source());
      if (source == null) {
        return false;
      }
      records.load(source, person.workerNumber(), ending(person, until, catalogue), Actor.SERVICE);
      return true;
    } catch (RuntimeException failed) {
      LOG.warn("The record of {} cannot be ended with its organisation", id, failed);
      return false;
    }
  }

  private static Map<String, String> ending(
      PersonRow person, LocalDate until, Catalogue catalogue) {
    var facts = FactsJson.texts(person.facts(), catalogue.facts());
    var starts = person.startsOn();
    if (starts != null && starts.isAfter(until)) {
      facts.put(Facts.START, until.toString());
    }
    facts.put(Facts.END, until.toString());
    return facts;
  }
}
