package glenmoor.server.reconcile;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.reconcile.FoundRight;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.engine.reconcile.Reconciles;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Comparing applications with what is expected of them. */
@RestController
@RequestMapping("/api/v1")
class ReconcilesApi {
  private final Reconciles reconciles;
  private final ProgressApi progress;

  ReconcilesApi(Reconciles reconciles, ProgressApi progress) {
    this.reconciles = reconciles;
    this.progress = progress;
  }

  /** Begins to compare an application; the work's result says what was found. */
  @Needs(Permission.RECONCILE)
  @PostMapping("/applications/{key}/reconcile")
  ResponseEntity<Work> begin(@PathVariable String key, Actor actor) {
    return progress.accepted(reconciles.begin(key, actor), actor);
  }

  /** Comparisons, the newest first. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/reconciles")
  Lists.Page<ReconcileRun> list(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        reconciles.list(
            application, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, row -> row, row -> String.valueOf(row.id()));
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/reconciles/{id}")
  ReconcileRun show(@PathVariable long id, Actor actor) {
    return reconciles.show(id, actor);
  }

  /** Rights that the application was last found to have and no definition names. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/applications/{key}/unknown-rights")
  Lists.Page<FoundRight> unknownRights(@PathVariable String key, Actor actor) {
    return new Lists.Page<>(reconciles.unknownRights(key, actor), null);
  }
}
