package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.engine.Refused;
import glenmoor.engine.authorization.Authorization;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.lifecycle.EventMapper.EventProgress;
import glenmoor.store.lifecycle.EventMapper.EventSearch;
import glenmoor.store.lifecycle.EventMapper.KindCount;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;

/** What there is to see of events. */
public final class EventDesk {
  private final EventMapper events;

  public EventDesk(EventMapper events) {
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
