package glenmoor.server.applications;

import glenmoor.core.applications.HealthTurn;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.access.MappingPreview;
import glenmoor.engine.applications.ApplicationHolders;
import glenmoor.engine.applications.ApplicationService;
import glenmoor.engine.applications.ApplicationService.Summary;
import glenmoor.engine.applications.ApplicationService.TestResult;
import glenmoor.engine.applications.HealthHistory;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Applications and their health. */
@RestController
@RequestMapping("/api/v1/applications")
class ApplicationsApi {
  private final ApplicationService applications;
  private final ApplicationHolders holders;
  private final MappingPreview preview;
  private final HealthHistory history;

  ApplicationsApi(
      ApplicationService applications,
      ApplicationHolders holders,
      MappingPreview preview,
      HealthHistory history) {
    this.history = history;
    this.holders = holders;
    this.preview = preview;
    this.applications = applications;
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<Summary> list(Actor actor) {
    return new Lists.Page<>(applications.list(actor), null);
  }

  /** One application: how it is looked after, its rights, and what the next thirty days bring. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/{key}")
  ApplicationHolders.ApplicationDetail show(@PathVariable String key, Actor actor) {
    return holders.show(key, actor);
  }

  /**
   * Its accounts, in the order in which they were made.
   *
   * @param seen how they were last seen: enabled, disabled or none
   */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/{key}/accounts")
  Lists.Page<ApplicationHolders.AccountLine> accounts(
      @PathVariable String key,
      @RequestParam @Nullable String seen,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = holders.accounts(key, seen, Lists.number(after, 0), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, row -> row, row -> String.valueOf(row.id()));
  }

  /** When it became well or unwell in the last days. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/{key}/health")
  Lists.Page<HealthTurn> health(
      @PathVariable String key, @RequestParam(defaultValue = "30") int days, Actor actor) {
    return new Lists.Page<>(history.of(key, days, actor), null);
  }

  /** What the application's mappings come to for one person, beside what was last seen there. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/{key}/preview")
  MappingPreview.MappingShown preview(
      @PathVariable String key, @RequestParam String worker, Actor actor) {
    return preview.of(key, worker, actor);
  }

  /** Asks the application for something small, and counts its accounts. */
  @Needs(Permission.TEST_APPLICATIONS)
  @PostMapping("/{key}/test")
  TestResult test(@PathVariable String key, Actor actor) {
    return applications.test(key, actor);
  }
}
