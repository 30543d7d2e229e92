package glenmoor.server.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.jobs.Job;
import glenmoor.engine.jobs.Jobs;
import glenmoor.server.authorization.ForEverybody;
import java.net.URI;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
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
   * @param state {@code running}, {@code done}, {@code refused} or {@code failed}
   * @param result what it came to, once it is done
   */
  public record Work(
      long id,
      String what,
      String state,
      int done,
      int total,
      String sentence,
      JsonNode result,
      Instant startedAt,
      @Nullable Instant endedAt) {}

  private final Jobs jobs;

  ProgressApi(Jobs jobs) {
    this.jobs = jobs;
  }

  @ForEverybody
  @GetMapping("/{id}")
  Work show(@PathVariable long id, Actor actor) {
    return work(jobs.of(id, actor));
  }

  /** 202 with the address at which to follow the work (RFC 9110, section 15.3.3). */
  public ResponseEntity<Work> accepted(long id, Actor actor) {
    return ResponseEntity.accepted()
        .location(URI.create("/api/v1/progress/" + id))
        .body(work(jobs.of(id, actor)));
  }

  private static Work work(Job row) {
    return new Work(
        row.id(),
        row.what(),
        row.state(),
        row.done(),
        row.total(),
        row.sentence(),
        JsonMapper.shared().readTree(row.result()),
        row.startedAt(),
        row.endedAt());
  }
}
