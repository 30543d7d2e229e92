package glenmoor.server.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.campaigns.RevokedRights;
import glenmoor.engine.campaigns.RevokedRights.RevokedRight;
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
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Rights that were revoked, and letting rules give them again. */
@RestController
@RequestMapping("/api/v1")
class RevokedApi {
  /**
   * Why it is lifted.
   *
   * @param lastDay the last day on which it still holds; absent to lift it now
   */
  record WhyReleased(@NotNull String reason, @Nullable LocalDate lastDay) {}

  private final RevokedRights revoked;

  RevokedApi(RevokedRights revoked) {
    this.revoked = revoked;
  }

  /** The revocations that hold for somebody, or will. */
  @ForEverybody
  @GetMapping("/people/{worker}/revoked")
  List<RevokedRight> of(@PathVariable String worker, Actor actor) {
    return revoked.of(worker, actor);
  }

  /** Lifts a revocation, now or after a day: what would give it gives it again. */
  @Needs(Permission.RELEASE_REVOKED)
  @PostMapping("/revoked/{id}/release")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void release(@PathVariable long id, @Valid @RequestBody WhyReleased body, Actor actor) {
    revoked.release(id, body.lastDay(), body.reason(), actor);
  }
}
