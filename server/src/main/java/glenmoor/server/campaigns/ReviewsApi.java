package glenmoor.server.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.Judgement;
import glenmoor.engine.Refused;
import glenmoor.engine.campaigns.ItemViews.ItemShown;
import glenmoor.engine.campaigns.ReviewService;
import glenmoor.engine.campaigns.ReviewService.Decision;
import glenmoor.engine.campaigns.ReviewService.Judged;
import glenmoor.engine.campaigns.ReviewViews;
import glenmoor.engine.campaigns.ReviewViews.ItemOpened;
import glenmoor.engine.campaigns.ReviewViews.ReviewShown;
import glenmoor.engine.campaigns.ReviewViews.WouldGo;
import glenmoor.engine.campaigns.SigningOff.SignedOff;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What somebody has to judge. */
@RestController
@RequestMapping("/api/v1")
class ReviewsApi {
  /**
   * A decision.
   *
   * @param items which; none for those that the filter finds
   * @param filter which, where no items are named; of those that are undecided
   * @param judgement keep or revoke
   * @param revision what the item was like when it was looked at, where it is one
   */
  record NewJudgement(
      @Nullable List<@NotNull String> items,
      @Nullable ItemFilter filter,
      @NotNull String judgement,
      @Nullable String reason,
      @Nullable Integer revision) {}

  /** Some items. */
  record Chosen(@NotNull List<@NotNull String> items) {}

  /** Items that somebody else is to judge. */
  record PassedOn(
      @NotNull List<@NotNull String> items, @NotNull String worker, @NotNull String reason) {}

  /** Something that is said. */
  record NewRemark(@NotNull String text) {}

  /** What becomes of something that its holder says they need. */
  record SettledAnswer(@NotNull String judgement, @NotNull String reason) {}

  /** How many it was. */
  record HowMany(int number) {}

  private final ReviewService reviews;
  private final ReviewViews views;

  ReviewsApi(ReviewService reviews, ReviewViews views) {
    this.reviews = reviews;
    this.views = views;
  }

  /** What waits for whoever asks, in rounds that go on. */
  @ForEverybody
  @GetMapping("/reviews")
  Lists.Page<ReviewShown> mine(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(views.mine(actor), after, limit, review -> String.valueOf(review.id()));
  }

  /** One review. */
  @ForEverybody
  @GetMapping("/reviews/{id}")
  ReviewShown show(@PathVariable long id, Actor actor) {
    return views.show(id, actor);
  }

  /** Its items. */
  @ForEverybody
  @GetMapping("/reviews/{id}/items")
  Lists.Page<ItemShown> items(
      @PathVariable long id,
      @ParameterObject ItemFilter filter,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return filter.page(
        filter.of(0, id, after, Lists.limit(limit) + 1),
        limit,
        search -> views.items(id, search, actor));
  }

  /** Decides on items; what could not be decided says why. */
  @ForEverybody
  @PostMapping("/reviews/{id}/decisions")
  Judged decide(@PathVariable long id, @Valid @RequestBody NewJudgement body, Actor actor) {
    var decision =
        new Decision(judgement(body.judgement()), Objects.requireNonNullElse(body.reason(), ""));
    var filter = body.filter();
    if (body.items() == null && filter != null) {
      return reviews.decideFound(id, filter.of(0, id, null, 1), decision, actor);
    }
    return reviews.decide(
        id,
        ids(Objects.requireNonNullElse(body.items(), List.of())),
        decision,
        body.revision(),
        actor);
  }

  private static Judgement judgement(String word) {
    return Judgement.ofWord(word)
        .orElseThrow(
            () -> Refused.mistake("judgement", "“%s” is neither keep nor revoke.".formatted(word)));
  }

  private static List<Long> ids(List<String> items) {
    return items.stream().map(each -> Lists.number(each, 0)).toList();
  }

  /** Takes decisions back; how many that were. */
  @ForEverybody
  @PostMapping("/reviews/{id}/undo")
  HowMany undo(@PathVariable long id, @Valid @RequestBody Chosen body, Actor actor) {
    return new HowMany(reviews.undo(id, ids(body.items()), actor));
  }

  /** Has somebody else judge items; how many that were. */
  @ForEverybody
  @PostMapping("/reviews/{id}/pass-on")
  HowMany passOn(@PathVariable long id, @Valid @RequestBody PassedOn body, Actor actor) {
    return new HowMany(reviews.passOn(id, ids(body.items()), body.worker(), body.reason(), actor));
  }

  /** What a sign-off would take. */
  @ForEverybody
  @GetMapping("/reviews/{id}/forecast")
  WouldGo forecast(@PathVariable long id, Actor actor) {
    return views.wouldGo(id, actor);
  }

  /** Says that one is done: what is revoked goes. */
  @ForEverybody
  @PostMapping("/reviews/{id}/sign-off")
  SignedOff signOff(@PathVariable long id, Actor actor) {
    return reviews.signOff(id, actor);
  }

  /** One item, with what was said to it. */
  @ForEverybody
  @GetMapping("/items/{id}")
  ItemOpened item(@PathVariable long id, Actor actor) {
    return views.item(id, actor);
  }

  /** Notes that its reviewer has looked at it by itself. */
  @ForEverybody
  @PostMapping("/items/{id}/open")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void open(@PathVariable long id, Actor actor) {
    reviews.open(id, actor);
  }

  /** Says something to it. */
  @ForEverybody
  @PostMapping("/items/{id}/comment")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void comment(@PathVariable long id, @Valid @RequestBody NewRemark body, Actor actor) {
    reviews.comment(id, body.text(), actor);
  }

  /** What was announced to whoever asks, and they may say that they need. */
  @ForEverybody
  @GetMapping("/announced")
  List<ItemShown> announced(Actor actor) {
    return views.announced(actor);
  }

  /** A holder says that they need it. */
  @ForEverybody
  @PostMapping("/items/{id}/answer")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void answer(@PathVariable long id, @Valid @RequestBody NewRemark body, Actor actor) {
    reviews.answer(id, body.text(), actor);
  }

  /** Its reviewer settles what its holder said. */
  @ForEverybody
  @PostMapping("/items/{id}/settle")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void settle(@PathVariable long id, @Valid @RequestBody SettledAnswer body, Actor actor) {
    reviews.settleAnswer(id, new Decision(judgement(body.judgement()), body.reason()), actor);
  }
}
