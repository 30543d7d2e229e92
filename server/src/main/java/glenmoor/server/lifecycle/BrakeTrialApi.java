package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.lifecycle.BrakeTrial;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Tries other limits of the brake on feeds against the feeds of the last year. */
@RestController
@RequestMapping("/api/v1/brakes")
class BrakeTrialApi {
  /**
   * Limits by measure, such as {@code leavers: 10 or 3 %}; what is not said is as it is in force.
   */
  record TrialLimits(@NotNull Map<String, @NotNull String> limits) {}

  /**
   * A feed that these limits would have held.
   *
   * @param wasHeld whether the limits of that day held it
   */
  record TrialHeld(
      String feed,
      String source,
      String fileName,
      Instant startedAt,
      boolean wasHeld,
      List<String> sentences) {}

  /**
   * What the limits would have done.
   *
   * @param tried how many feeds were looked at
   * @param more whether there were more than are looked at
   */
  record Trial(int tried, boolean more, Map<String, String> limits, List<TrialHeld> held) {}

  private final BrakeTrial trial;

  BrakeTrialApi(BrakeTrial trial) {
    this.trial = trial;
  }

  /** How often they would have held, and what; nothing is changed. */
  @Needs(Permission.SEE_HELD_CHANGES)
  @PostMapping("/feeds/trial")
  Trial feeds(@Valid @RequestBody TrialLimits body, Actor actor) {
    var tried = trial.feeds(body.limits(), actor);
    return new Trial(
        tried.tried(),
        tried.more(),
        tried.limits(),
        tried.held().stream()
            .map(each ->
                new TrialHeld(
                    String.valueOf(each.feed()),
                    each.source(),
                    each.fileName(),
                    each.startedAt(),
                    each.wasHeld(),
                    each.sentences()))
            .toList());
  }
}
