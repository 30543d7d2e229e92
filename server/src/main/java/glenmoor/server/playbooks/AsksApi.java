package glenmoor.server.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.playbooks.AskView;
import glenmoor.engine.playbooks.AskService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What runs of playbooks ask people. */
@RestController
@RequestMapping("/api/v1/asks")
class AsksApi {
  /**
   * A question.
   *
   * @param whom who is asked, as the playbook says it
   * @param state open, yes, no, lapsed, or dropped where the run was over before
   */
  record AskShown(
      String id,
      String run,
      String playbook,
      String worker,
      String person,
      String question,
      String whom,
      Instant askedAt,
      Instant lapsesAt,
      String state,
      String answeredBy,
      @Nullable Instant answeredAt,
      String reason) {
    static AskShown of(AskView ask) {
      return new AskShown(
          String.valueOf(ask.id()),
          String.valueOf(ask.run()),
          ask.playbook(),
          ask.worker(),
          ask.person(),
          ask.question(),
          ask.whom(),
          ask.askedAt(),
          ask.lapsesAt(),
          ask.state(),
          ask.answeredBy(),
          ask.answeredAt(),
          ask.reason());
    }
  }

  /**
   * An answer.
   *
   * @param yes a no ends the run
   * @param reason needed for a no
   */
  record AskAnswer(@NotNull Boolean yes, @Nullable String reason) {}

  private final AskService asks;

  AsksApi(AskService asks) {
    this.asks = asks;
  }

  /** What waits for an answer of whoever asks this; of all, for those who see playbooks. */
  @ForEverybody
  @GetMapping
  Lists.Page<AskShown> list(
      @RequestParam(defaultValue = "false") boolean all,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = asks.open(all, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, AskShown::of, row -> String.valueOf(row.id()));
  }

  /** Answers. */
  @ForEverybody
  @PostMapping("/{id}/answer")
  AskShown answer(@PathVariable long id, @Valid @RequestBody AskAnswer body, Actor actor) {
    var reason = body.reason();
    return AskShown.of(asks.answer(id, body.yes(), reason == null ? "" : reason, actor));
  }
}
