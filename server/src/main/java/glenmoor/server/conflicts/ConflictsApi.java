package glenmoor.server.conflicts;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.conflicts.ConflictService;
import glenmoor.engine.conflicts.ConflictService.Settled;
import glenmoor.engine.conflicts.ConflictService.Terms;
import glenmoor.engine.conflicts.ConflictService.WouldEnd;
import glenmoor.engine.conflicts.ConflictViews;
import glenmoor.engine.conflicts.ConflictViews.ConflictListed;
import glenmoor.engine.conflicts.ConflictViews.ConflictShown;
import glenmoor.engine.conflicts.ConflictViews.Matrix;
import glenmoor.engine.conflicts.ConflictViews.RuleTried;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** People who break conflict rules, and what becomes of that. */
@RestController
@RequestMapping("/api/v1")
class ConflictsApi {
  /** Which right of it is to go, and why. */
  record SideEnded(@NotNull String entitlement, @NotNull String reason) {}

  /**
   * Which conflicts are allowed, and on what terms.
   *
   * @param until the last day
   */
  record Exempted(
      @NotNull List<@NotNull String> conflicts,
      @NotNull String reason,
      @NotNull String control,
      @NotNull LocalDate until) {}

  /** A rule that is being written. */
  record RuleDraft(@NotNull String text) {}

  private final ConflictViews views;
  private final ConflictService conflicts;

  ConflictsApi(ConflictViews views, ConflictService conflicts) {
    this.views = views;
    this.conflicts = conflicts;
  }

  /**
   * Conflicts that are not over, of rules that whoever asks answers for or sees, and of who reports
   * to them.
   *
   * @param state open or exempt
   * @param group only of this group of people
   */
  @ForEverybody
  @GetMapping("/conflicts")
  Lists.Page<ConflictListed> list(
      @RequestParam @Nullable String rule,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String group,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        views.list(
            rule,
            worker,
            state,
            group,
            Lists.number(after, Long.MAX_VALUE),
            Lists.limit(limit) + 1,
            actor);
    return Lists.page(rows, limit, each -> each, each -> String.valueOf(each.id()));
  }

  /** How many there are of each rule, by what groups people here. */
  @Needs(Permission.SEE_CONFLICTS)
  @GetMapping("/conflicts/matrix")
  Matrix matrix(Actor actor) {
    return views.matrix(actor);
  }

  /** Looks for them now. */
  @Needs(Permission.EXEMPT)
  @PostMapping("/conflicts/scan")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void scan(Actor actor) {
    views.lookNow(actor);
  }

  /** One of them, with how each side came about. */
  @ForEverybody
  @GetMapping("/conflicts/{id}")
  ConflictShown show(@PathVariable long id, Actor actor) {
    return views.show(id, actor);
  }

  /** What ending one right of it would take besides. */
  @ForEverybody
  @GetMapping("/conflicts/{id}/forecast")
  WouldEnd forecast(@PathVariable long id, @RequestParam String entitlement, Actor actor) {
    return conflicts.wouldEnd(id, entitlement, actor);
  }

  /** Ends everything that gives one right of it. */
  @ForEverybody
  @PostMapping("/conflicts/{id}/end")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void end(@PathVariable long id, @Valid @RequestBody SideEnded body, Actor actor) {
    conflicts.end(id, body.entitlement(), body.reason(), actor);
  }

  /** Allows some until the end of a day. */
  @Needs(Permission.EXEMPT)
  @PostMapping("/conflicts/exempt")
  List<Settled> exempt(@Valid @RequestBody Exempted body, Actor actor) {
    return conflicts.exempt(
        body.conflicts().stream().map(each -> Lists.number(each, 0)).toList(),
        new Terms(body.reason(), body.control(), body.until()),
        actor);
  }

  /** For how many a rule that is being written would be broken; nothing is kept. */
  @Needs(Permission.SEE_DEFINITIONS)
  @PostMapping("/conflict-rules/{key}/draft")
  RuleTried trial(@PathVariable String key, @Valid @RequestBody RuleDraft body, Actor actor) {
    return views.trial(key, body.text(), actor);
  }
}
