package glenmoor.server.authorization;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.StatedReason;
import glenmoor.engine.authorization.Duties;
import glenmoor.server.Lists;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Duties: who was given which, for what, from when to when. */
@RestController
@RequestMapping("/api/v1/duties")
class DutiesApi {
  /**
   * A duty to give.
   *
   * @param duty such as {@code auditor} or {@code fixer:directory}
   */
  record DutyBody(
      @NotNull String login,
      @NotNull String duty,
      @Nullable LocalDate from,
      @Nullable LocalDate until,
      @Nullable String reason) {}

  record ReasonBody(@Nullable String reason) {}

  private final Duties duties;

  DutiesApi(Duties duties) {
    this.duties = duties;
  }

  /**
   * @param ended whether those that were taken are listed too
   */
  @Needs(Permission.SEE_SIGN_INS)
  @GetMapping
  Lists.Page<Duties.Given> list(
      @RequestParam(defaultValue = "false") boolean ended,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        duties.list(ended, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, given -> given, given -> String.valueOf(given.id()));
  }

  @Needs(Permission.MANAGE_SIGN_INS)
  @PostMapping
  Duties.Given give(@Valid @RequestBody DutyBody body, Actor actor) {
    return duties.give(
        body.login(),
        duties.read(body.duty(), body.from(), body.until()),
        new StatedReason(body.reason() == null ? "" : body.reason()),
        actor);
  }

  @Needs(Permission.MANAGE_SIGN_INS)
  @PostMapping("/{id}/end")
  Duties.Given end(@PathVariable long id, @RequestBody ReasonBody body, Actor actor) {
    return duties.end(id, new StatedReason(body.reason() == null ? "" : body.reason()), actor);
  }
}
