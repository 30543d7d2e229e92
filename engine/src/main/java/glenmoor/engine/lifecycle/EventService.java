package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.lifecycle.EventProgress;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.core.lifecycle.KindCount;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.store.lifecycle.EventMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;

/** What there is to see of events. */
@Named
public final class EventService {
  private final EventMapper events;

  public EventService(EventMapper events) {
    this.events = events;
  }

  public List<EventProgress> search(EventSearch search, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    var kind = search.kind();
    var words = Arrays.stream(EventKind.values()).map(EventKind::word).toList();
    if (kind != null && !words.contains(kind)) {
      throw Refused.badInput(
          "There is no event called “%s”; say one of %s."
              .formatted(kind, String.join(", ", words)));
    }
    return events.search(search);
  }

  public List<KindCount> counts(Instant since, Instant until, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return events.counts(since, until);
  }
}
