package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.requests.ListedLine;
import glenmoor.engine.requests.Answered;
import glenmoor.engine.requests.RequestLists;
import glenmoor.engine.requests.RequestLists.LineSearch;
import glenmoor.engine.requests.RequestNumbers;
import glenmoor.engine.requests.RequestNumbers.AtStage;
import glenmoor.engine.requests.RequestNumbers.InApplication;
import glenmoor.engine.requests.RequestNumbers.Numbers;
import glenmoor.engine.requests.RequestPreviews.PreviewLine;
import glenmoor.engine.requests.RequestService;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.requests.RequestViews;
import glenmoor.engine.requests.RequestViews.RequestShown;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Requests for access. */
@RestController
@RequestMapping("/api/v1/requests")
class RequestsApi {
  /**
   * A line of a request.
   *
   * @param worker for whom; left out for oneself
   * @param kind new, or extend; left out for new
   * @param startDay left out for at once
   * @param lastDay left out for as long as the offer says
   * @param answers by question
   * @param grant the one to extend
   */
  record NewRequestLine(
      @NotNull String offer,
      @Nullable String worker,
      @Nullable String kind,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      @Nullable Map<String, @NotNull String> answers,
      @Nullable String reason,
      @Nullable Long grant) {
    NewLine line() {
      return new NewLine(
          offer,
          Objects.requireNonNullElse(worker, ""),
          Objects.requireNonNullElse(kind, ""),
          startDay,
          lastDay,
          Objects.requireNonNullElse(answers, Map.of()),
          Objects.requireNonNullElse(reason, ""),
          grant);
    }
  }

  /** What somebody asks for in one go. */
  record NewRequest(@NotNull List<@NotNull @Valid NewRequestLine> lines) {
    List<NewLine> all() {
      return lines.stream().map(NewRequestLine::line).toList();
    }
  }

  /** A line in a list. */
  record RequestLineListed(
      long line,
      long request,
      String kind,
      String offer,
      String rolePackage,
      String name,
      String worker,
      String person,
      String askedBy,
      Instant askedAt,
      String reason,
      List<String> gives,
      List<Answered> answers,
      String risk,
      String state,
      @Nullable Instant endedAt,
      String endReason) {}

  /** Why; left out for nothing. */
  record WhyWithdrawn(@Nullable String reason) {}

  /** What somebody says. */
  record RequestComment(@NotNull String text) {}

  private final RequestService requests;
  private final RequestViews views;
  private final RequestLists lists;
  private final RequestNumbers numbers;

  RequestsApi(
      RequestService requests, RequestViews views, RequestLists lists, RequestNumbers numbers) {
    this.lists = lists;
    this.numbers = numbers;
    this.requests = requests;
    this.views = views;
  }

  /**
   * Lines of requests, the last one first.
   *
   * @param whose mine, waiting (for whoever asks this), or all that one sees by one's duties
   * @param application that give something there
   * @param risk that give something of this risk, or a higher one
   * @param route and stage, from 1: that wait there, or ended there
   */
  @ForEverybody
  @GetMapping
  Lists.Page<RequestLineListed> list(
      @RequestParam(defaultValue = "mine") String whose,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String offer,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String risk,
      @RequestParam @Nullable String route,
      @RequestParam @Nullable Integer stage,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        lists.list(
            new LineSearch(whose, worker, offer, state, application, risk, route, stage),
            Lists.number(after, Long.MAX_VALUE),
            Lists.limit(limit) + 1,
            actor);
    return Lists.page(rows, limit, this::listed, row -> String.valueOf(row.id()));
  }

  private RequestLineListed listed(ListedLine row) {
    var about = lists.about(row);
    return new RequestLineListed(
        row.id(),
        row.requestId(),
        row.kind(),
        row.offer(),
        row.packageKey(),
        about.name(),
        row.worker(),
        row.person(),
        row.askerName(),
        row.askedAt(),
        row.reason(),
        about.gives(),
        about.answers(),
        about.risk(),
        row.state(),
        row.endedAt(),
        row.endReason());
  }

  /** How the asks under each offer fare, of those that are open or ended within ninety days. */
  @Needs(Permission.SEE_REQUESTS)
  @GetMapping("/numbers")
  List<Numbers> numbers(Actor actor) {
    return numbers.byOffer(actor);
  }

  /** The same by stage of a route, with who is asked there. */
  @Needs(Permission.SEE_REQUESTS)
  @GetMapping("/numbers/stages")
  List<AtStage> stages(Actor actor) {
    return numbers.byStage(actor);
  }

  /** The same by application, with its faults and seats. */
  @Needs(Permission.SEE_REQUESTS)
  @GetMapping("/numbers/applications")
  List<InApplication> applications(Actor actor) {
    return numbers.byApplication(actor);
  }

  /** What would come of a request: who would be asked, and what it would give; nothing is kept. */
  @ForEverybody
  @PostMapping("/preview")
  List<PreviewLine> preview(@Valid @RequestBody NewRequest body, Actor actor) {
    return requests.preview(body.all(), actor);
  }

  /** Asks. The same Idempotency-Key from the same sign-in asks once. */
  @ForEverybody
  @PostMapping
  @ResponseStatus(HttpStatus.CREATED)
  RequestShown submit(
      @Valid @RequestBody NewRequest body,
      @RequestHeader(name = "Idempotency-Key", required = false) @Nullable String key,
      Actor actor) {
    return views.show(requests.submit(body.all(), key == null ? "" : key, actor), actor);
  }

  /** A request, with how each of its lines stands. */
  @ForEverybody
  @GetMapping("/{id}")
  RequestShown show(@PathVariable long id, Actor actor) {
    return views.show(id, actor);
  }

  /** Takes back what is still open of it. */
  @ForEverybody
  @PostMapping("/{id}/withdraw")
  RequestShown withdraw(@PathVariable long id, @Valid @RequestBody WhyWithdrawn body, Actor actor) {
    requests.withdraw(id, Objects.requireNonNullElse(body.reason(), ""), actor);
    return views.show(id, actor);
  }

  /** Says something about it. */
  @ForEverybody
  @PostMapping("/{id}/comments")
  RequestShown comment(
      @PathVariable long id, @Valid @RequestBody RequestComment body, Actor actor) {
    requests.comment(id, body.text(), actor);
    return views.show(id, actor);
  }
}
