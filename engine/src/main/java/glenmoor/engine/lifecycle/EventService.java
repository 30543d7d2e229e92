package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.lifecycle.EventProgress;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.core.lifecycle.KindCount;
import glenmoor.core.people.Facts;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.people.FactsJson;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What there is to see of events. */
@Named
public final class EventService {
  /**
   * An event with the counts of its operations.
   *
   * @param subtitle what stands beside the person's name
   */
  public record Shown(EventProgress event, String subtitle) {
    /** From when it counts; null where somebody has to agree to that first. */
    public @Nullable LocalDate effectiveOn() {
      return event.effectiveOn().equals(Facts.NOT_YET) ? null : event.effectiveOn();
    }
  }

  private final EventMapper events;
  private final Catalogues catalogues;

  public EventService(EventMapper events, Catalogues catalogues) {
    this.events = events;
    this.catalogues = catalogues;
  }

  public List<Shown> search(EventSearch search, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    var kind = search.kind();
    var words = Arrays.stream(EventKind.values()).map(EventKind::word).toList();
    if (kind != null && !words.contains(kind)) {
      throw Refused.badInput(
          "There is no event called “%s”; say one of %s."
              .formatted(kind, String.join(", ", words)));
    }
    var catalogue = catalogues.current();
    return events.search(search).stream()
        .map(event ->
            new Shown(event, catalogue.subtitle(FactsJson.read(event.facts(), catalogue.facts()))))
        .toList();
  }

  public List<KindCount> counts(Instant since, Instant until, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return events.counts(since, until);
  }
}
