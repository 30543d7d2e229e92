package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.requests.PackageHolders;
import glenmoor.engine.requests.PackageHolders.HeldAcross;
import glenmoor.engine.requests.PackageHolders.PackageHolder;
import glenmoor.engine.requests.PortfolioService;
import glenmoor.engine.requests.PortfolioService.PackageListed;
import glenmoor.engine.requests.PortfolioService.PortfolioListed;
import glenmoor.engine.requests.PortfolioService.PortfolioShown;
import glenmoor.engine.requests.RouteRehearsal;
import glenmoor.engine.requests.RouteRehearsal.OfferDrafted;
import glenmoor.engine.requests.RouteRehearsal.Rehearsed;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What packages are made of, and on which terms they are offered. */
@RestController
@RequestMapping("/api/v1")
class PortfoliosApi {
  /**
   * An offer that is being written.
   *
   * @param worker for whom its route is rehearsed; left out for nobody
   */
  record OfferDraft(@NotNull String text, @Nullable String worker) {}

  private final PortfolioService portfolios;
  private final PackageHolders holders;
  private final RouteRehearsal rehearsal;

  PortfoliosApi(PortfolioService portfolios, PackageHolders holders, RouteRehearsal rehearsal) {
    this.holders = holders;
    this.portfolios = portfolios;
    this.rehearsal = rehearsal;
  }

  /** The portfolios that whoever asks may see. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/portfolios")
  Lists.Page<PortfolioListed> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(portfolios.list(actor), after, limit, PortfolioListed::key);
  }

  /** One of them, with its packages and their offers. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/portfolios/{key}")
  PortfolioShown show(@PathVariable String key, Actor actor) {
    return portfolios.show(key, actor);
  }

  /** The packages of the portfolios that whoever asks looks after, by key. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/packages")
  Lists.Page<PackageListed> packages(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(portfolios.packages(actor), after, limit, each -> each.rolePackage().key());
  }

  /** One of them. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/packages/{package}")
  PackageListed onePackage(@PathVariable("package") String rolePackage, Actor actor) {
    return portfolios.onePackage(rolePackage, actor);
  }

  /** Who has a package of it, or will. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/portfolios/{key}/packages/{package}/holders")
  Lists.Page<PackageHolder> holders(
      @PathVariable String key,
      @PathVariable("package") String rolePackage,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        holders.list(key, rolePackage, Lists.number(after, 0), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, each -> each, each -> String.valueOf(each.grant()));
  }

  /** How many have it, by what groups people here. */
  @Needs(Permission.SEE_PORTFOLIOS)
  @GetMapping("/portfolios/{key}/packages/{package}/across")
  HeldAcross across(
      @PathVariable String key, @PathVariable("package") String rolePackage, Actor actor) {
    return holders.across(key, rolePackage, actor);
  }

  /** Who would be asked by a route for somebody, and when what would happen. */
  @Needs(Permission.SEE_DEFINITIONS)
  @GetMapping("/routes/{key}/rehearsal")
  Rehearsed rehearse(
      @PathVariable String key,
      @RequestParam String worker,
      @RequestParam @Nullable String offer,
      Actor actor) {
    return rehearsal.rehearse(key, offer == null ? "" : offer, worker, actor);
  }

  /** For how many an offer is that is being written, and who would be asked; nothing is kept. */
  @Needs({Permission.SEE_DEFINITIONS, Permission.BUNDLE})
  @PostMapping("/offers/{key}/draft")
  OfferDrafted draft(@PathVariable String key, @Valid @RequestBody OfferDraft body, Actor actor) {
    return rehearsal.draft(key, body.text(), body.worker(), actor);
  }
}
