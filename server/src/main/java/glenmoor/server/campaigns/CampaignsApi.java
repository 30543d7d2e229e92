package glenmoor.server.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.campaigns.CampaignService;
import glenmoor.engine.campaigns.CampaignViews;
import glenmoor.engine.campaigns.CampaignViews.CampaignListed;
import glenmoor.engine.campaigns.CampaignViews.RoundListed;
import glenmoor.engine.campaigns.CampaignViews.RoundShown;
import glenmoor.engine.campaigns.ItemViews.ItemShown;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.LocalDate;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Campaigns and their rounds, for those who lead them. */
@RestController
@RequestMapping("/api/v1")
class CampaignsApi {
  /** Why something is done; it is kept. */
  record Reason(@NotNull String reason) {}

  /**
   * A later end.
   *
   * @param until the last day
   */
  record Extension(@NotNull LocalDate until, @NotNull String reason) {}

  /**
   * Somebody who takes something over.
   *
   * @param worker their worker number
   */
  record TakenOver(@NotNull String worker, @NotNull String reason) {}

  /** How many it was. */
  record Number(int number) {}

  private final CampaignService campaigns;
  private final CampaignViews views;
  private final ProgressApi progress;

  CampaignsApi(CampaignService campaigns, CampaignViews views, ProgressApi progress) {
    this.campaigns = campaigns;
    this.views = views;
    this.progress = progress;
  }

  /** Campaigns as they are defined, with their rounds that go on and were last. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping("/campaigns")
  Lists.Page<CampaignListed> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(views.list(actor), after, limit, CampaignListed::key);
  }

  /** Begins to count what a round would ask of whom; the work's result says it. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/campaigns/{key}/rehearsals")
  ResponseEntity<Work> rehearse(@PathVariable String key, Actor actor) {
    return progress.accepted(campaigns.rehearse(key, actor), actor);
  }

  /** Begins to launch a round; the work's result says what it came to. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/campaigns/{key}/rounds")
  ResponseEntity<Work> launch(@PathVariable String key, Actor actor) {
    return progress.accepted(campaigns.launch(key, actor).work(), actor);
  }

  /**
   * Rounds, the newest first.
   *
   * @param campaign of one campaign only
   * @param state launching, open, closing, closed or dropped
   */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping("/rounds")
  Lists.Page<RoundListed> rounds(
      @RequestParam @Nullable String campaign,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        views.rounds(
            campaign, state, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, each -> each, each -> String.valueOf(each.id()));
  }

  /** One round, with who is how far. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping("/rounds/{id}")
  RoundShown round(@PathVariable long id, Actor actor) {
    return views.show(id, actor);
  }

  /** Its items. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping("/rounds/{id}/items")
  Lists.Page<ItemShown> items(
      @PathVariable long id,
      @ParameterObject ItemFilter filter,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return filter.page(
        filter.of(id, null, after, Lists.limit(limit) + 1),
        limit,
        search -> views.items(id, search, actor));
  }

  /** Gives it up before anybody has signed off. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/rounds/{id}/drop")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void drop(@PathVariable long id, @Valid @RequestBody Reason body, Actor actor) {
    campaigns.drop(id, body.reason(), actor);
  }

  /** Gives reviewers more time. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/rounds/{id}/extend")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void extend(@PathVariable long id, @Valid @RequestBody Extension body, Actor actor) {
    campaigns.extend(id, body.until(), body.reason(), actor);
  }

  /** Reminds those who are not done; how many letters that were. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/rounds/{id}/remind")
  Number remind(@PathVariable long id, Actor actor) {
    return new Number(campaigns.remind(id, actor));
  }

  /** Ends the judging now, as the closing rule says. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/rounds/{id}/close")
  CampaignService.ClosedEarly close(
      @PathVariable long id, @Valid @RequestBody Reason body, Actor actor) {
    return campaigns.close(id, body.reason(), actor);
  }

  /** Gives what a reviewer has not signed off to somebody else; how many items that were. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/reviews/{id}/reassign")
  Number reassign(@PathVariable long id, @Valid @RequestBody TakenOver body, Actor actor) {
    return new Number(campaigns.reassign(id, body.worker(), body.reason(), actor));
  }

  /** Says who sees to it that something goes which its application does not confirm. */
  @Needs(Permission.LEAD_CAMPAIGNS)
  @PostMapping("/items/{id}/hand")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void hand(@PathVariable long id, @Valid @RequestBody TakenOver body, Actor actor) {
    campaigns.hand(id, body.worker(), body.reason(), actor);
  }
}
