package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.core.lifecycle.KindCount;
import glenmoor.core.people.Facts;
import glenmoor.engine.lifecycle.EventService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Events, and how far what follows from each has come. */
@RestController
@RequestMapping("/api/v1/events")
class EventsApi {
  /** One changed fact. */
  record Change(String fact, String before, String after) {}

  /**
   * One event with the counts of its operations.
   *
   * @param effectiveOn from when it counts; null where somebody has to agree to that first
   */
  record Event(
      long id,
      String worker,
      String name,
      String subtitle,
      String kind,
      @Nullable LocalDate effectiveOn,
      @Nullable Long feed,
      List<Change> changes,
      Instant detectedAt,
      @Nullable Instant plannedAt,
      int operations,
      int sent,
      int confirmed,
      int faults,
      @Nullable Instant confirmedAt,
      @Nullable String waitingFor) {}

  private final EventService events;

  EventsApi(EventService events) {
    this.events = events;
  }

  @Needs(Permission.SEE_FEEDS)
  @GetMapping
  Lists.Page<Event> list(
      @RequestParam @Nullable String kind,
      @RequestParam @Nullable Long feed,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable Instant since,
      @RequestParam @Nullable Instant until,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var place = Lists.place(after);
    var rows =
        events.search(
            new EventSearch(
                kind, feed, worker, since, until, place.at(), place.id(), Lists.limit(limit) + 1),
            actor);
    return Lists.page(
        rows,
        limit,
        EventsApi::event,
        row -> Lists.key(row.event().detectedAt(), row.event().id()));
  }

  private static Event event(EventService.Shown shown) {
    var row = shown.event();
    var json = JsonMapper.shared();
    var changes = new ArrayList<Change>();
    for (var node : json.readTree(row.changes())) {
      changes.add(
          new Change(
              node.path("fact").asString(""),
              value(node.path("before")),
              value(node.path("after"))));
    }
    return new Event(
        row.id(),
        row.workerNumber(),
        row.personName(),
        shown.subtitle(),
        row.kind(),
        shown.effectiveOn(),
        row.feedId(),
        changes,
        row.detectedAt(),
        row.plannedAt(),
        row.operations(),
        row.sent(),
        row.confirmed(),
        row.faults(),
        row.confirmedAt(),
        row.waitingFor());
  }

  /** A day that is none is told to nobody. */
  private static String value(JsonNode node) {
    var text = node.asString("");
    return text.equals(Facts.NOT_YET.toString()) ? "" : text;
  }

  /** How many events of each kind were detected between two moments. */
  @Needs(Permission.SEE_FEEDS)
  @GetMapping("/counts")
  List<KindCount> counts(@RequestParam Instant since, @RequestParam Instant until, Actor actor) {
    return events.counts(since, until, actor);
  }
}
