package glenmoor.server.letters;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.Message;
import glenmoor.engine.letters.MessageService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
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

/** What was told to people and programs outside, and the letters there are. */
@RestController
@RequestMapping("/api/v1")
class MessagesApi {
  /**
   * A message in a list.
   *
   * @param kind letter, tickets, chat or webhook
   * @param worker about whom; null where that is nobody
   * @param recipient the person who gets it; null for a channel
   * @param state waiting, sent or failed
   */
  record MessageListed(
      String id,
      String kind,
      String channel,
      @Nullable String worker,
      @Nullable String person,
      @Nullable String recipient,
      String address,
      String template,
      String subject,
      String state,
      int tries,
      Instant createdAt,
      @Nullable Instant settledAt,
      @Nullable Instant dueAt,
      String reason,
      String answer,
      @Nullable String run) {
    static MessageListed of(Message row) {
      return new MessageListed(
          String.valueOf(row.id()),
          row.kind(),
          row.channel(),
          row.worker(),
          row.person(),
          row.recipient(),
          row.address(),
          row.template(),
          row.subject(),
          row.state(),
          row.tries(),
          row.createdAt(),
          row.settledAt(),
          row.dueAt(),
          row.reason(),
          row.answer(),
          row.run() == null ? null : String.valueOf(row.run()));
    }
  }

  /** A message with what it says; where a passcode stood there are dots. */
  record MessageShown(MessageListed message, String text, String html) {
    static MessageShown of(Message row) {
      return new MessageShown(MessageListed.of(row), row.body(), row.html());
    }
  }

  /**
   * A letter as it is defined.
   *
   * @param tellsPasscode whether it tells a passcode, which is filled in only while it is sent
   */
  record LetterDefined(
      String key, String name, String subject, String body, boolean tellsPasscode) {
    static LetterDefined of(Letter letter) {
      return new LetterDefined(
          letter.key(),
          letter.name(),
          letter.subject().text(),
          letter.body().text(),
          letter.tellsPasscode());
    }
  }

  /** A letter as it would be written about somebody. */
  record LetterPreview(String subject, String text, String html) {}

  private final MessageService messages;

  MessagesApi(MessageService messages) {
    this.messages = messages;
  }

  /** Messages, the last one first; about one person, or in one state, where that is asked for. */
  @Needs(Permission.SEE_LETTERS)
  @GetMapping("/messages")
  Lists.Page<MessageListed> list(
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        messages.list(
            worker, state, Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, MessageListed::of, row -> String.valueOf(row.id()));
  }

  /** One message. */
  @Needs(Permission.SEE_LETTERS)
  @GetMapping("/messages/{id}")
  MessageShown show(@PathVariable long id, Actor actor) {
    return MessageShown.of(messages.show(id, actor));
  }

  /** Sends one again that failed. */
  @Needs(Permission.SEND_LETTERS)
  @PostMapping("/messages/{id}/again")
  MessageShown again(@PathVariable long id, Actor actor) {
    return MessageShown.of(messages.again(id, actor));
  }

  /** The letters that are defined, by their keys. */
  @Needs(Permission.SEE_LETTERS)
  @GetMapping("/letters")
  Lists.Page<LetterDefined> letters(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        messages.letters(actor).stream()
            .filter(each -> after == null || each.key().compareTo(after) > 0)
            .limit(Lists.limit(limit) + 1L)
            .toList();
    return Lists.page(rows, limit, LetterDefined::of, Letter::key);
  }

  /** A letter as it would be written about somebody today. */
  @Needs(Permission.SEE_LETTERS)
  @GetMapping("/letters/{key}/preview")
  LetterPreview preview(@PathVariable String key, @RequestParam String worker, Actor actor) {
    var written = messages.preview(key, worker, actor);
    return new LetterPreview(written.subject(), written.text(), written.html());
  }

  /**
   * A letter that is being written.
   *
   * @param text its definition
   * @param worker about whom
   */
  record LetterDraft(@NotNull String text, @NotNull String worker) {}

  /** A letter that is being written, as it would read about somebody today; nothing is kept. */
  @Needs(Permission.SEE_DEFINITIONS)
  @PostMapping("/letters/{key}/draft")
  LetterPreview draft(@PathVariable String key, @Valid @RequestBody LetterDraft body, Actor actor) {
    var written = messages.previewDraft(key, body.text(), body.worker(), actor);
    return new LetterPreview(written.subject(), written.text(), written.html());
  }
}
