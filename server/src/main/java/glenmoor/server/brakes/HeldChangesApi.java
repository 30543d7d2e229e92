package glenmoor.server.brakes;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.KeptChange;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Changes that a brake holds until somebody else releases or drops them. */
@RestController
@RequestMapping("/api/v1/held-changes")
public class HeldChangesApi {
  /**
   * One held change.
   *
   * @param measured what it comes to, by measure, and of how many people it speaks
   * @param forecast what it would do; only where one change is asked for
   */
  public record HeldChange(
      long id,
      String kind,
      String what,
      String state,
      String sentence,
      JsonNode measured,
      JsonNode forecast,
      String broughtBy,
      Instant broughtAt,
      String decidedBy,
      @Nullable Instant decidedAt,
      String note) {}

  record Note(@NotNull String note) {}

  private final HeldChanges held;
  private final ProgressApi progress;

  HeldChangesApi(HeldChanges held, ProgressApi progress) {
    this.held = held;
    this.progress = progress;
  }

  /** The change as people see it. */
  public static HeldChange change(KeptChange row) {
    var json = JsonMapper.shared();
    return new HeldChange(
        row.id(),
        row.kind(),
        row.what(),
        row.state(),
        row.sentence(),
        json.readTree(row.measured()),
        json.readTree(row.forecast()),
        row.broughtBy(),
        row.broughtAt(),
        row.decidedBy(),
        row.decidedAt(),
        row.note());
  }

  /**
   * @param state {@code held}, {@code released} or {@code dropped}
   */
  @Needs(Permission.SEE_HELD_CHANGES)
  @GetMapping
  Lists.Page<HeldChange> list(
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = held.list(state, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, HeldChangesApi::change, row -> String.valueOf(row.id()));
  }

  @Needs(Permission.SEE_HELD_CHANGES)
  @GetMapping("/{id}")
  HeldChange show(@PathVariable long id, Actor actor) {
    return change(held.show(id, actor));
  }

  /** Carries the change out, as the world is now. */
  @Needs(Permission.DECIDE_HELD_CHANGES)
  @PostMapping("/{id}/release")
  ResponseEntity<Work> release(@PathVariable long id, @Valid @RequestBody Note body, Actor actor) {
    return progress.accepted(held.release(id, body.note(), actor), actor);
  }

  /** Forgets the change. */
  @Needs(Permission.DECIDE_HELD_CHANGES)
  @PostMapping("/{id}/drop")
  HeldChange drop(@PathVariable long id, @Valid @RequestBody Note body, Actor actor) {
    return change(held.drop(id, body.note(), actor));
  }
}
