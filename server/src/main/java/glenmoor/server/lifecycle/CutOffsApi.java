package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.CutOff;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.engine.lifecycle.CutOffViews;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** People who must go this minute, whatever their source says. */
@RestController
@RequestMapping("/api/v1/cut-offs")
class CutOffsApi {
  /** Why; it is kept. */
  record Reason(@NotNull String reason) {}

  /**
   * One time that somebody was cut off.
   *
   * @param ending {@code brought-back}, or {@code agreed} once their source says that they have
   *     left; empty while it is in force
   */
  record CutOffShown(
      long id,
      String worker,
      String name,
      Instant at,
      String by,
      String reason,
      @Nullable Instant endedAt,
      String endedBy,
      String ending,
      String endReason) {
    static CutOffShown of(CutOff row) {
      return new CutOffShown(
          row.id(),
          row.workerNumber(),
          row.personName(),
          row.at(),
          row.byLogin(),
          row.reason(),
          row.endedAt(),
          row.endedBy(),
          row.ending(),
          row.endReason());
    }
  }

  /**
   * One application of theirs.
   *
   * @param state how the account was last seen: enabled, disabled or none
   * @param rights with how many entitlements
   * @param progress {@code open} before anything is asked for, then {@code waiting}, {@code sent},
   *     {@code confirmed}, {@code fault} or {@code task}; {@code nothing} where nothing is to be
   *     done
   * @param what what is done there, or would be
   */
  record CutOffApplication(
      String application,
      String name,
      String account,
      String state,
      int rights,
      String progress,
      String what,
      String reason,
      @Nullable Instant since) {
    static CutOffApplication of(CutOffViews.InApplication one) {
      return new CutOffApplication(
          one.application(),
          one.name(),
          one.account(),
          one.state(),
          one.rights(),
          one.progress().word(),
          one.what(),
          one.reason(),
          one.since());
    }
  }

  /**
   * Somebody and their access.
   *
   * @param sourceSays their standing as their source alone tells it
   * @param signIns their sign-ins to Glenmoor that are in force
   * @param last the last time they were cut off; null if they never were
   */
  record CutOffPerson(
      String worker,
      String name,
      String subtitle,
      String standing,
      String sourceSays,
      boolean cutOff,
      List<String> signIns,
      @Nullable CutOffShown last,
      List<CutOffApplication> applications) {
    static CutOffPerson of(CutOffViews.Shown shown) {
      var last = shown.last();
      return new CutOffPerson(
          shown.worker(),
          shown.name(),
          shown.subtitle(),
          shown.standing().word(),
          shown.sourceSays().word(),
          shown.isCutOff(),
          shown.signIns(),
          last == null ? null : CutOffShown.of(last),
          shown.applications().stream().map(CutOffApplication::of).toList());
    }
  }

  private final CutOffService cutOffs;

  CutOffsApi(CutOffService cutOffs) {
    this.cutOffs = cutOffs;
  }

  /** Those who are cut off and whose source does not say so yet, the last one first. */
  @Needs(Permission.SEE_FEEDS)
  @GetMapping
  Lists.Page<CutOffShown> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = cutOffs.inForce(Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, CutOffShown::of, row -> String.valueOf(row.id()));
  }

  /** How it stands with somebody, or what cutting them off would do. */
  @Needs(Permission.SEE_FEEDS)
  @GetMapping("/{worker}")
  CutOffPerson show(@PathVariable String worker, Actor actor) {
    return CutOffPerson.of(cutOffs.show(worker, actor));
  }

  /** Cuts somebody off; asked twice it is done once. */
  @Needs(Permission.CUT_OFF)
  @PostMapping("/{worker}")
  CutOffPerson cutOff(@PathVariable String worker, @Valid @RequestBody Reason body, Actor actor) {
    return CutOffPerson.of(cutOffs.cutOff(worker, body.reason(), actor));
  }

  /** Brings them back to what their source and their grants give them. */
  @Needs(Permission.CUT_OFF)
  @PostMapping("/{worker}/bring-back")
  CutOffPerson bringBack(
      @PathVariable String worker, @Valid @RequestBody Reason body, Actor actor) {
    return CutOffPerson.of(cutOffs.bringBack(worker, body.reason(), actor));
  }
}
