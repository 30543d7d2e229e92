package glenmoor.server.ledger;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerSearch;
import glenmoor.engine.ledger.Ledger;
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
  /** One entry; {@code entry} is all of it. */
  record Entry(
      long id,
      Instant at,
      String actor,
      String cause,
      String subject,
      String what,
      JsonNode entry) {}

  private final Ledger ledger;

  LedgerApi(Ledger ledger) {
    this.ledger = ledger;
  }

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
            new LedgerSearch(subject, by, what, place.at(), place.id(), Lists.limit(limit) + 1),
            actor);
    return Lists.page(rows, limit, LedgerApi::entry, row -> Lists.key(row.happenedAt(), row.id()));
  }

  private static Entry entry(KeptEntry row) {
    return new Entry(
        row.id(),
        row.happenedAt(),
        row.actor(),
        row.cause(),
        row.subject(),
        row.what(),
        JsonMapper.shared().readTree(row.entry()));
  }
}
