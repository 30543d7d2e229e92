package glenmoor.server.partners;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.partners.PartnerConfirming;
import glenmoor.engine.partners.PartnerConfirming.PartnerAsked;
import glenmoor.engine.partners.PartnerDoor;
import glenmoor.engine.partners.PartnerDoor.PartnerWelcome;
import glenmoor.engine.partners.PartnerViews;
import glenmoor.engine.partners.PartnerViews.PartnerListed;
import glenmoor.engine.partners.PartnerViews.PartnerPerson;
import glenmoor.engine.partners.Said;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForNobody;
import glenmoor.server.authorization.Needs;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
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

/** Partner organisations, and their people asking for access by a link without signing in. */
@RestController
@RequestMapping("/api/v1")
class PartnersApi {
  /**
   * What somebody says of themselves and asks for.
   *
   * @param family left out by who has one name
   * @param answers by question
   * @param acceptedVersion of the terms; left out where there are none
   */
  record PartnerAsk(
      @NotNull String given,
      @Nullable String family,
      @NotNull String mail,
      @NotNull String offer,
      @Nullable Map<String, @NotNull String> answers,
      @Nullable String reason,
      @Nullable Integer acceptedVersion) {
    Said said() {
      return new Said(
          given,
          Objects.requireNonNullElse(family, ""),
          mail,
          offer,
          Objects.requireNonNullElse(answers, Map.of()),
          Objects.requireNonNullElse(reason, ""),
          Objects.requireNonNullElse(acceptedVersion, 0));
    }
  }

  /** What a letter's address ends with. */
  record PartnerKey(@NotNull String key) {}

  private final PartnerDoor door;
  private final PartnerConfirming confirming;
  private final PartnerViews views;

  PartnersApi(PartnerDoor door, PartnerConfirming confirming, PartnerViews views) {
    this.door = door;
    this.confirming = confirming;
    this.views = views;
  }

  /** What somebody sees who follows the link of an organisation. */
  @ForNobody
  @GetMapping("/partner-doors/{key}")
  PartnerWelcome welcome(@PathVariable String key) {
    return door.welcome(key);
  }

  /**
   * Asks: a letter goes to the address that is said, and nothing else happens until it is
   * confirmed.
   */
  @ForNobody
  @PostMapping("/partner-doors/{key}/asks")
  @ResponseStatus(HttpStatus.ACCEPTED)
  void ask(
      @PathVariable String key, @Valid @RequestBody PartnerAsk body, HttpServletRequest request) {
    door.ask(key, body.said(), request.getRemoteAddr());
  }

  /** Confirms an address: there is a record from now on, and it is asked for. */
  @ForNobody
  @PostMapping("/partner-doors/confirm")
  PartnerAsked confirm(@Valid @RequestBody PartnerKey body) {
    return confirming.confirm(body.key());
  }

  /** All partner organisations, each with the link for its people. */
  @Needs(Permission.SEE_EVERYBODY)
  @GetMapping("/partner-organisations")
  Lists.Page<PartnerListed> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(views.list(actor), after, limit, PartnerListed::key);
  }

  /** Who asked by an organisation's link and confirmed their address, the last first. */
  @Needs(Permission.SEE_EVERYBODY)
  @GetMapping("/partner-organisations/{key}/people")
  Lists.Page<PartnerPerson> people(
      @PathVariable String key,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        views.people(key, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, each -> each, each -> String.valueOf(each.id()));
  }
}
