package glenmoor.server.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.jobs.Job;
import glenmoor.engine.jobs.Jobs;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import java.net.URI;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** How far long work has come. */
@RestController
@RequestMapping("/api/v1/progress")
public class ProgressApi {
  /**
   * One piece of long work.
   *
   * @param kind what work it is, which says what {@code result} is
   * @param state {@code waiting}, {@code running}, {@code done}, {@code refused}, {@code failed} or
   *     {@code cancelled}
   * @param result what it came to, once it is done
   * @param errors what was wrong in what it was given, each at its place
   * @param cancelling whether somebody wants it to stop
   */
  public record Work(
      long id,
      String kind,
      String what,
      String state,
      int done,
      int total,
      String sentence,
      JsonNode result,
      JsonNode errors,
      Instant startedAt,
      @Nullable Instant endedAt,
      String owner,
      boolean cancelling) {}

  private final Jobs jobs;

  ProgressApi(Jobs jobs) {
    this.jobs = jobs;
  }

  @ForEverybody
  @GetMapping("/{id}")
  Work show(@PathVariable long id, Actor actor) {
    return work(jobs.of(id, actor));
  }

  /**
   * The newest work first: one's own or, for those who see it, everybody's; without results.
   *
   * @param open only what waits or goes on
   */
  @ForEverybody
  @GetMapping
  Lists.Page<Work> list(
      @RequestParam(defaultValue = "false") boolean open,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var before = after == null ? null : Lists.number(after, 0);
    var rows = jobs.list(open, before, Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, ProgressApi::work, row -> String.valueOf(row.id()));
  }

  /** Has work stop, if what it does is not done yet. */
  @ForEverybody
  @PostMapping("/{id}/cancel")
  Work cancel(@PathVariable long id, Actor actor) {
    return work(jobs.cancel(id, actor));
  }

  /** 202 with the address at which to follow the work (RFC 9110, section 15.3.3). */
  public ResponseEntity<Work> accepted(long id, Actor actor) {
    return ResponseEntity.accepted()
        .location(URI.create("/api/v1/progress/" + id))
        .body(work(jobs.of(id, actor)));
  }

  private static Work work(Job row) {
    var json = JsonMapper.shared();
    return new Work(
        row.id(),
        row.kind(),
        row.what(),
        row.state(),
        row.done(),
        row.total(),
        row.sentence(),
        json.readTree(row.result()),
        json.readTree(row.errors()),
        row.startedAt(),
        row.endedAt(),
        row.owner(),
        row.cancelWanted() && row.open());
  }
}
