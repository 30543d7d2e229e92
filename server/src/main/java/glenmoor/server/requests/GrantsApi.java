package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.GrantService;
import glenmoor.engine.requests.GrantService.Held;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
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
  /** Why; it is kept. */
  record WhyEnded(@NotNull String reason) {}

  private final GrantService grants;

  GrantsApi(GrantService grants) {
    this.grants = grants;
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

  /** Ends something at once, with all that came with it. */
  @ForEverybody
  @PostMapping("/{id}/end")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void end(@PathVariable long id, @Valid @RequestBody WhyEnded body, Actor actor) {
    grants.end(id, body.reason(), actor);
  }
}
