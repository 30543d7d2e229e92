package glenmoor.server.usage;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.usage.IdleAccess;
import glenmoor.engine.usage.IdleAccess.Idle;
import glenmoor.engine.usage.IdleAccess.Use;
import glenmoor.engine.usage.UsageTold;
import glenmoor.engine.usage.UsageTold.Told;
import glenmoor.engine.usage.UsageTold.UsageTaken;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.parameters.RequestBody;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.io.IOException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** When access was used, and what is idle. */
@RestController
@RequestMapping("/api/v1")
class UsageApi {
  /**
   * One use.
   *
   * @param account what it is called there, or
   * @param worker whose it is; one of them
   * @param entitlement a key or a technical name; left out for the account itself
   * @param lastUsed a moment (RFC 3339), or a date
   */
  record NewUse(
      @Nullable String account,
      @Nullable String worker,
      @Nullable String entitlement,
      @NotNull String lastUsed) {}

  /** Some uses, at most a thousand. */
  record NewUses(@NotNull List<@NotNull @Valid NewUse> items) {}

  private final UsageTold told;
  private final IdleAccess idle;
  private final ProgressApi progress;

  UsageApi(UsageTold told, IdleAccess idle, ProgressApi progress) {
    this.told = told;
    this.idle = idle;
    this.progress = progress;
  }

  /** Tells of some uses at once. */
  @Needs(Permission.TELL_USE)
  @PostMapping("/applications/{key}/uses")
  UsageTaken take(
      @PathVariable String key,
      @Valid @org.springframework.web.bind.annotation.RequestBody NewUses body,
      Actor actor) {
    return told.take(
        key,
        body.items().stream()
            .map(each ->
                new Told(
                    Objects.requireNonNullElse(each.account(), ""),
                    Objects.requireNonNullElse(each.worker(), ""),
                    Objects.requireNonNullElse(each.entitlement(), ""),
                    each.lastUsed()))
            .toList(),
        actor);
  }

  /** The body is a file (CSV): account or worker, entitlement, last used. */
  @Needs(Permission.TELL_USE)
  @PostMapping(
      value = "/applications/{key}/uses/file",
      consumes = {"text/csv", "application/octet-stream"})
  @RequestBody(
      content = @Content(mediaType = "text/csv", schema = @Schema(type = "string")),
      description = "The file, with a heading")
  ResponseEntity<Work> load(
      @PathVariable String key,
      @RequestParam(defaultValue = "uses.csv") String fileName,
      HttpServletRequest request,
      Actor actor)
      throws IOException {
    return progress.accepted(told.load(key, fileName, request.getInputStream(), actor), actor);
  }

  /** What is idle, in the applications that whoever asks this sees. */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/idle-access")
  Lists.Page<Idle> idle(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = idle.list(application, after == null ? "" : after, Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, each -> each, each -> each.account() + "/" + each.entitlement());
  }

  /** When somebody's accounts and rights were used last, as far as that was told. */
  @ForEverybody
  @GetMapping("/people/{worker}/uses")
  List<Use> of(@PathVariable String worker, Actor actor) {
    return idle.of(worker, actor);
  }
}
