package glenmoor.server.people;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.forecast.WhatIf;
import glenmoor.core.people.ValueCount;
import glenmoor.engine.Refused;
import glenmoor.engine.access.AccessService;
import glenmoor.engine.access.AccessService.AccountShown;
import glenmoor.engine.access.AccessService.Timeline;
import glenmoor.engine.access.AccessService.WhyAnswer;
import glenmoor.engine.access.WhatIfService;
import glenmoor.engine.people.PeopleService;
import glenmoor.engine.people.PeopleService.PeoplePage;
import glenmoor.engine.people.PeopleService.PersonShown;
import glenmoor.engine.people.PeopleService.Search;
import glenmoor.engine.provisioning.OperationService;
import glenmoor.engine.provisioning.Passcodes;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.util.HashMap;
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

/** People: lists of them, and everything about one. */
@RestController
@RequestMapping("/api/v1/people")
class PeopleApi {
  private final PeopleService people;
  private final AccessService access;
  private final OperationService operations;
  private final WhatIfService whatIf;

  PeopleApi(
      PeopleService people,
      AccessService access,
      OperationService operations,
      WhatIfService whatIf) {
    this.whatIf = whatIf;
    this.people = people;
    this.access = access;
    this.operations = operations;
  }

  /**
   * @param filter each is {@code fact:value}, such as {@code location:Westholm}
   * @param source the key of the one they come from
   * @param sort {@code name}, {@code worker} or {@code starts}; {@code -name} for the last first
   * @param count whether to count all that match, which takes time where they are many
   */
  @ForEverybody
  @GetMapping
  PeoplePage list(
      @RequestParam @Nullable String text,
      @RequestParam @Nullable String standing,
      @RequestParam @Nullable List<String> filter,
      @RequestParam @Nullable String source,
      @RequestParam @Nullable String sort,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      @RequestParam(defaultValue = "false") boolean count,
      Actor actor) {
    return people.list(
        new Search(
            blankless(text),
            facts(filter),
            blankless(standing),
            blankless(source),
            blankless(sort),
            after,
            Lists.limit(limit),
            count),
        actor);
  }

  private static @Nullable String blankless(@Nullable String text) {
    return text == null || text.isBlank() ? null : text.strip();
  }

  private static Map<String, String> facts(@Nullable List<String> filter) {
    var facts = new HashMap<String, String>();
    if (filter != null) {
      for (var each : filter) {
        var colon = each.indexOf(':');
        if (colon <= 0) {
          throw Refused.badInput(
              "The filter “%s” is no fact with a value; say it as location:Westholm."
                  .formatted(each));
        }
        facts.put(each.substring(0, colon), each.substring(colon + 1));
      }
    }
    return facts;
  }

  /** The values a fact has, with how many people have each. */
  @ForEverybody
  @GetMapping("/values/{fact}")
  List<ValueCount> values(@PathVariable String fact, Actor actor) {
    return people.values(fact, actor);
  }

  @ForEverybody
  @GetMapping("/{worker}")
  PersonShown show(@PathVariable String worker, Actor actor) {
    return people.show(worker, actor);
  }

  @ForEverybody
  @GetMapping("/{worker}/accounts")
  List<AccountShown> accounts(@PathVariable String worker, Actor actor) {
    return access.accounts(worker, actor);
  }

  @ForEverybody
  @GetMapping("/{worker}/timeline")
  Timeline timeline(@PathVariable String worker, Actor actor) {
    return access.timeline(worker, actor);
  }

  /** Why the person has an entitlement: every way from their facts to the right. */
  @ForEverybody
  @GetMapping("/{worker}/why")
  WhyAnswer why(@PathVariable String worker, @RequestParam String entitlement, Actor actor) {
    return access.why(worker, entitlement, actor);
  }

  /**
   * What would be otherwise.
   *
   * @param facts by key, as texts; an empty one is taken away
   */
  record Otherwise(@NotNull Map<String, String> facts) {}

  /**
   * One right of theirs.
   *
   * @param fate {@code gained}, {@code lost}, {@code at-risk} (held only by grants that end) or
   *     {@code kept}
   */
  record RightShown(
      String entitlement, String name, String application, String fate, @Nullable Instant until) {}

  /**
   * What would become of somebody.
   *
   * @param event what the change would be; null where nothing differs
   */
  record WhatIfShown(
      String worker,
      String name,
      @Nullable String event,
      String standing,
      List<RightShown> rights,
      List<WhatIf.AccountChange> accounts,
      List<String> troubles) {}

  /** What would become of somebody's access if these facts were theirs today; nothing is done. */
  @Needs(Permission.SEE_EVERYBODY)
  @PostMapping("/{worker}/what-if")
  WhatIfShown whatIf(@PathVariable String worker, @Valid @RequestBody Otherwise body, Actor actor) {
    var answer = whatIf.ask(worker, body.facts(), actor);
    var event = answer.event();
    return new WhatIfShown(
        answer.worker(),
        answer.name(),
        event == null ? null : event.word(),
        answer.standing().word(),
        answer.whatIf().rights().stream()
            .map(right ->
                new RightShown(
                    right.entitlement(),
                    right.name(),
                    right.application(),
                    right.fate().word(),
                    right.until()))
            .toList(),
        answer.whatIf().accounts(),
        answer.troubles().stream()
            .map(trouble -> trouble.where() + ": " + trouble.sentence())
            .toList());
  }

  /** Gives an account a new passcode and tells it once. */
  @Needs(Permission.ISSUE_PASSCODES)
  @PostMapping("/{worker}/passcode")
  Passcodes.Issued passcode(
      @PathVariable String worker,
      @RequestParam(defaultValue = "directory") String application,
      Actor actor) {
    return operations.issuePasscode(worker, application, actor);
  }
}
