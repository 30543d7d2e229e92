package glenmoor.server.reconcile;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.reconcile.DriftSearch;
import glenmoor.core.reconcile.DriftView;
import glenmoor.core.reconcile.ServiceAccount;
import glenmoor.engine.reconcile.DriftService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Differences between applications and what is expected of them. */
@RestController
@RequestMapping("/api/v1")
class DriftApi {
  /**
   * One difference.
   *
   * @param kind such as {@code extra-entitlement}
   * @param response what is done about it by itself: report, repair, adopt or ask
   * @param worker whose account it is; null for nobody's
   * @param aspect the side of the account that differs
   * @param expected what should be there, by what differs
   * @param outcome how it was settled; empty while it is open
   */
  record DriftShown(
      long id,
      String application,
      String kind,
      String sentence,
      String state,
      String response,
      @Nullable String worker,
      @Nullable String name,
      String account,
      String nativeId,
      String aspect,
      Map<String, String> expected,
      Map<String, String> found,
      Instant firstSeenAt,
      Instant lastSeenAt,
      String outcome,
      @Nullable Instant settledAt,
      String settledBy,
      String reason) {
    static DriftShown of(DriftView view) {
      return new DriftShown(
          view.id(),
          view.application(),
          view.kind().word(),
          view.kind().sentence(),
          view.state(),
          view.response().word(),
          view.worker(),
          view.person(),
          view.accountName(),
          view.nativeId(),
          view.aspect(),
          view.expected(),
          view.found(),
          view.firstSeenAt(),
          view.lastSeenAt(),
          view.outcome(),
          view.settledAt(),
          view.settledBy(),
          view.reason());
    }
  }

  /** Which differences, by their identities, and why. */
  record Several(@NotNull List<@NotNull Long> drift, @NotNull String reason) {}

  /**
   * @param until the last day on which that holds; the usual 90 days where none is given
   */
  record Accepting(@NotNull String reason, @Nullable LocalDate until) {}

  record Attaching(@NotNull String worker, @NotNull String reason) {}

  /**
   * @param owner the worker number of who answers for it
   */
  record Declaring(@NotNull String owner, @NotNull String purpose, @Nullable LocalDate until) {}

  record Reason(@NotNull String reason) {}

  private final DriftService drift;

  DriftApi(DriftService drift) {
    this.drift = drift;
  }

  /** Drift, the newest first. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/drift")
  Lists.Page<DriftShown> list(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String kind,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String response,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        drift.list(
            new DriftSearch(
                application,
                kind,
                state,
                response,
                worker,
                Lists.number(after, Long.MAX_VALUE),
                Lists.limit(limit) + 1),
            actor);
    return Lists.page(rows, limit, DriftShown::of, row -> String.valueOf(row.id()));
  }

  /** Where drift is open, by application and kind. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/drift/open")
  Lists.Page<DriftService.OpenDrift> open(Actor actor) {
    return new Lists.Page<>(drift.open(actor), null);
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/drift/{id}")
  DriftShown show(@PathVariable long id, Actor actor) {
    return DriftShown.of(drift.show(id, actor));
  }

  /** Has what differs made as it should be. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/repair")
  DriftService.Decided repair(@Valid @RequestBody Several body, Actor actor) {
    return drift.repair(body.drift(), body.reason(), actor);
  }

  /** Lets people have the rights they were found to have. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/adopt")
  DriftService.Decided adopt(@Valid @RequestBody Several body, Actor actor) {
    return drift.adopt(body.drift(), body.reason(), actor);
  }

  /** Lets a difference be, until a day. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/{id}/accept")
  DriftShown accept(@PathVariable long id, @Valid @RequestBody Accepting body, Actor actor) {
    return DriftShown.of(drift.accept(id, body.reason(), body.until(), actor));
  }

  /** Says whose an account is that was nobody's. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/{id}/attach")
  DriftShown attach(@PathVariable long id, @Valid @RequestBody Attaching body, Actor actor) {
    return DriftShown.of(drift.attach(id, body.worker(), body.reason(), actor));
  }

  /** Says what an account that is nobody's is for, and who answers for it. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/{id}/declare")
  DriftShown declare(@PathVariable long id, @Valid @RequestBody Declaring body, Actor actor) {
    return DriftShown.of(drift.declare(id, body.owner(), body.purpose(), body.until(), actor));
  }

  /** Deletes an account that is nobody's. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/drift/{id}/remove")
  DriftShown remove(@PathVariable long id, @Valid @RequestBody Reason body, Actor actor) {
    return DriftShown.of(drift.remove(id, body.reason(), actor));
  }

  /** Accounts that are nobody's and declared, the newest first. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/service-accounts")
  Lists.Page<ServiceAccount> serviceAccounts(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        drift.serviceAccounts(
            application, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, row -> row, row -> String.valueOf(row.id()));
  }

  /** Says that an account is not what it was declared to be any more. */
  @Needs(Permission.DECIDE_DRIFT)
  @PostMapping("/service-accounts/{id}/end")
  void endServiceAccount(@PathVariable long id, Actor actor) {
    drift.endServiceAccount(id, actor);
  }
}
