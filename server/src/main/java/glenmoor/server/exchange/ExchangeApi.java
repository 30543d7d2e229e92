package glenmoor.server.exchange;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.exchange.OrderFile;
import glenmoor.engine.exchange.FileExchange;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Files exchanged with an application that takes its changes as files. */
@RestController
@RequestMapping("/api/v1/applications/{key}/files")
class ExchangeApi {
  private final FileExchange exchange;

  ExchangeApi(FileExchange exchange) {
    this.exchange = exchange;
  }

  /** The files that were written for it, the newest first, and when each was answered. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<OrderFile> orderFiles(
      @PathVariable String key,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var before = after == null ? null : Long.valueOf(Lists.number(after, 0));
    var rows = exchange.list(key, before, Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, row -> row, row -> String.valueOf(row.id()));
  }

  /** Writes a file with what waits now, besides those that its schedule brings. */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping
  OrderFile writeOrderFile(@PathVariable String key, Actor actor) {
    return exchange.write(key, actor);
  }
}
