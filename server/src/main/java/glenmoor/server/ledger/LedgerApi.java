package glenmoor.server.ledger;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.ledger.LedgerReading;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The record of everything that happened. */
@RestController
@RequestMapping("/api/v1/ledger")
class LedgerApi {
  /**
   * One entry; {@code entry} is all of it.
   *
   * @param name of the person it is about; null for other things
   */
  record Entry(
      long id,
      Instant at,
      String actor,
      String cause,
      String subject,
      @Nullable String name,
      String what,
      JsonNode entry) {}

  private final LedgerReading ledger;

  LedgerApi(LedgerReading ledger) {
    this.ledger = ledger;
  }

  /**
   * @param subject what it is about, such as {@code feed:12}; or a part of a name, or the beginning
   *     of a worker number
   */
  @Needs(Permission.READ_LEDGER)
  @GetMapping
  Lists.Page<Entry> list(
      @RequestParam @Nullable String subject,
      @RequestParam @Nullable String by,
      @RequestParam @Nullable String what,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var place = Lists.place(after);
    var rows =
        ledger.search(
            new LedgerReading.Asked(
                subject, by, what, place.at(), place.id(), Lists.limit(limit) + 1),
            actor);
    return Lists.page(
        rows,
        limit,
        LedgerApi::entry,
        row -> Lists.key(row.entry().happenedAt(), row.entry().id()));
  }

  private static Entry entry(LedgerReading.Read read) {
    var row = read.entry();
    return new Entry(
        row.id(),
        row.happenedAt(),
        row.actor(),
        row.cause(),
        row.subject(),
        read.name(),
        row.what(),
        JsonMapper.shared().readTree(row.entry()));
  }
}
