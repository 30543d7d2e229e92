package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.AwayPeriods;
import glenmoor.engine.requests.AwayPeriods.Away;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import java.util.Objects;
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

/** Who acts for somebody while they are away. */
@RestController
@RequestMapping("/api/v1/away-periods")
class AwayApi {
  /**
   * An away period.
   *
   * @param worker whose; left out for one's own
   * @param deputy the worker number of who acts for them
   * @param until the last day
   */
  record NewAway(
      @Nullable String worker,
      @NotNull String deputy,
      @NotNull LocalDate from,
      @NotNull LocalDate until) {}

  private final AwayPeriods away;

  AwayApi(AwayPeriods away) {
    this.away = away;
  }

  /** One's own that are not over; with the permission to decide in another's place, anybody's. */
  @ForEverybody
  @GetMapping
  Lists.Page<Away> list(
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(
        away.list(worker == null ? "" : worker, actor),
        after,
        limit,
        period -> String.valueOf(period.id()));
  }

  /** Has somebody act for one from a day to a day. */
  @ForEverybody
  @PostMapping
  @ResponseStatus(HttpStatus.CREATED)
  Away add(@Valid @RequestBody NewAway body, Actor actor) {
    return away.add(
        Objects.requireNonNullElse(body.worker(), ""),
        body.deputy(),
        body.from(),
        body.until(),
        actor);
  }

  /** Ends one before its time. */
  @ForEverybody
  @PostMapping("/{id}/end")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void end(@PathVariable long id, Actor actor) {
    away.end(id, actor);
  }
}
