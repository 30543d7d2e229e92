package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.ApprovalService;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.ApprovalService.LineDecided;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Deciding on lines of requests; those that wait are {@code /requests?whose=waiting}. */
@RestController
@RequestMapping("/api/v1/approvals")
class ApprovalsApi {
  /**
   * A decision.
   *
   * @param decision approve, decline, hold, go-on, pass-on or ask-back
   * @param until to the end of which day it is held
   * @param to the worker number of whoever it is passed on to
   * @param control what is done in the place of separating the duties, where a conflict is allowed
   * @param exemptUntil the last day on which it is
   * @param inPlaceOf whose decision an administrator takes, by worker number; {@code anybody} where
   *     nobody who is asked could act
   */
  record NewDecision(
      @NotNull String decision,
      @Nullable String reason,
      @Nullable LocalDate until,
      @Nullable String to,
      @Nullable String control,
      @Nullable LocalDate exemptUntil,
      @Nullable String inPlaceOf) {
    Decision said() {
      return new Decision(
          decision,
          Objects.requireNonNullElse(reason, ""),
          until,
          Objects.requireNonNullElse(to, ""),
          Objects.requireNonNullElse(control, ""),
          exemptUntil,
          Objects.requireNonNullElse(inPlaceOf, ""));
    }
  }

  /** The same decision on several lines. */
  record NewDecisions(@NotNull List<@NotNull Long> lines, @NotNull @Valid NewDecision decision) {}

  private final ApprovalService approvals;

  ApprovalsApi(ApprovalService approvals) {
    this.approvals = approvals;
  }

  /** Decides on one line. */
  @ForEverybody
  @PostMapping("/{line}")
  LineDecided decide(@PathVariable long line, @Valid @RequestBody NewDecision body, Actor actor) {
    return approvals.decideOne(line, body.said(), actor);
  }

  /** Decides on several lines alike; what could not be decided says why. */
  @ForEverybody
  @PostMapping
  List<LineDecided> decideAll(@Valid @RequestBody NewDecisions body, Actor actor) {
    return approvals.decideAll(body.lines(), body.decision().said(), actor);
  }
}
