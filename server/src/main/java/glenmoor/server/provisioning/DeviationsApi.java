package glenmoor.server.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.provisioning.FaultService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Differences between what should be and what was seen that somebody answers for. */
@RestController
@RequestMapping("/api/v1/deviations")
class DeviationsApi {
  /** One accepted deviation; {@code aspect} is the side of the account that differs. */
  record DeviationListed(
      long id,
      String worker,
      String name,
      String application,
      String account,
      String aspect,
      long operation,
      String acceptedBy,
      String reason,
      Instant acceptedAt,
      Instant until) {}

  private final FaultService faults;

  DeviationsApi(FaultService faults) {
    this.faults = faults;
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<DeviationListed> list(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        faults.deviations(application, Lists.number(after, 0), Lists.limit(limit) + 1, actor);
    return Lists.page(
        rows,
        limit,
        row ->
            new DeviationListed(
                row.id(),
                row.workerNumber(),
                row.personName(),
                row.application(),
                row.accountName(),
                row.aspect(),
                row.operationId(),
                row.acceptedBy(),
                row.reason(),
                row.acceptedAt(),
                row.untilAt()),
        row -> String.valueOf(row.id()));
  }
}
