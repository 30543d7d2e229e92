package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.requests.DirectGrants;
import glenmoor.engine.requests.DirectGrants.DirectlyGiven;
import glenmoor.engine.requests.GrantService;
import glenmoor.engine.requests.GrantService.Held;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import java.util.Map;
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

/** What people hold, and giving it back. */
@RestController
@RequestMapping("/api/v1/grants")
class GrantsApi {
  /**
   * What is to be given.
   *
   * @param startDay left out for at once
   * @param lastDay left out for as long as the offer says
   * @param answers by question
   * @param reason why; it is kept
   */
  record NewGrant(
      @NotNull String offer,
      @NotNull String worker,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      @Nullable Map<String, @NotNull String> answers,
      @NotNull String reason) {
    DirectGrants.Giving giving() {
      return new DirectGrants.Giving(
          offer, worker, startDay, lastDay, Objects.requireNonNullElse(answers, Map.of()), reason);
    }
  }

  /** Why; it is kept. */
  record WhyEnded(@NotNull String reason) {}

  private final GrantService grants;
  private final DirectGrants direct;

  GrantsApi(GrantService grants, DirectGrants direct) {
    this.grants = grants;
    this.direct = direct;
  }

  /** What somebody holds now or will, what ends first coming first. */
  @ForEverybody
  @GetMapping
  Lists.Page<Held> of(
      @RequestParam String worker,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(grants.of(worker, actor), after, limit, held -> String.valueOf(held.id()));
  }

  /** What somebody had by an offer until not long ago, and has no more; the last to end first. */
  @ForEverybody
  @GetMapping("/past")
  Lists.Page<Held> past(
      @RequestParam String worker,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(grants.past(worker, actor), after, limit, held -> String.valueOf(held.id()));
  }

  /** What would come of giving something directly; nothing is kept. */
  @Needs(Permission.GIVE_DIRECTLY)
  @PostMapping("/preview")
  DirectlyGiven preview(@Valid @RequestBody NewGrant body, Actor actor) {
    return direct.preview(body.giving(), actor);
  }

  /** Gives somebody what an offer is for, where it allows that without an ask. */
  @Needs(Permission.GIVE_DIRECTLY)
  @PostMapping
  @ResponseStatus(HttpStatus.CREATED)
  DirectlyGiven give(@Valid @RequestBody NewGrant body, Actor actor) {
    return direct.give(body.giving(), actor);
  }

  /** Ends something at once, with all that came with it. */
  @ForEverybody
  @PostMapping("/{id}/end")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void end(@PathVariable long id, @Valid @RequestBody WhyEnded body, Actor actor) {
    grants.end(id, body.reason(), actor);
  }
}
