package glenmoor.server.requests;

import glenmoor.engine.Refused;
import glenmoor.engine.requests.Answered;
import glenmoor.engine.requests.ApprovalService.LineDecided;
import glenmoor.engine.requests.ChatDecisions;
import glenmoor.engine.requests.ChatDecisions.Pressed;
import glenmoor.engine.requests.Conflicting;
import glenmoor.engine.requests.DecisionKeys;
import glenmoor.engine.requests.Gives;
import glenmoor.server.authorization.ForNobody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Decisions by whoever was led here by a letter or a chat, without signing in: the key, or the
 * chat's signature, says who they are.
 */
@RestController
class DecisionKeysApi {
  /** What a letter's address ends with. */
  record DecisionKey(@NotNull String key) {}

  /** A decision with it: approve or decline. */
  record KeyedDecision(@NotNull String key, @NotNull String decision, @Nullable String reason) {}

  /**
   * What is decided.
   *
   * @param approver who decides with this key
   * @param needsSignIn whether it takes more than a yes or a no
   */
  record KeyedAsk(
      String approver,
      String name,
      String purpose,
      String person,
      String personDetail,
      String reason,
      List<Answered> answers,
      List<Gives> gives,
      List<Conflicting> conflicts,
      boolean needsSignIn) {}

  private static final JsonMapper JSON = JsonMapper.shared();

  private final DecisionKeys keys;
  private final ChatDecisions chats;

  DecisionKeysApi(DecisionKeys keys, ChatDecisions chats) {
    this.keys = keys;
    this.chats = chats;
  }

  /** What a key leads to; it is not used by looking. */
  @ForNobody
  @PostMapping("/api/v1/decision-keys/look")
  KeyedAsk look(@Valid @RequestBody DecisionKey body) {
    var leads = keys.look(body.key());
    var line = leads.line();
    return new KeyedAsk(
        leads.approver(),
        line.name(),
        line.purpose(),
        line.subject().name(),
        line.subjectDetail(),
        line.reason(),
        line.answers(),
        line.gives(),
        line.conflicts(),
        leads.needsSignIn());
  }

  /** Decides with a key, which is good once. */
  @ForNobody
  @PostMapping("/api/v1/decision-keys")
  LineDecided decide(@Valid @RequestBody KeyedDecision body) {
    return keys.decide(body.key(), body.decision(), Objects.requireNonNullElse(body.reason(), ""));
  }

  /** A button that somebody pressed in a chat, signed by the chat (Standard Webhooks). */
  @ForNobody
  @PostMapping("/api/v1/chats/{channel}/decisions")
  LineDecided pressed(
      @PathVariable String channel,
      @RequestHeader("webhook-id") String id,
      @RequestHeader("webhook-timestamp") String timestamp,
      @RequestHeader("webhook-signature") String signature,
      @RequestBody String body) {
    chats.isFrom(channel, id, timestamp, signature, body);
    try {
      var said = JSON.readTree(body);
      return chats.take(
          new Pressed(
              said.path("key").asString(""),
              said.path("worker").asString(""),
              said.path("decision").asString(""),
              said.path("reason").asString("")));
    } catch (JacksonException noJson) {
      throw Refused.badInput("The body is no JSON.");
    }
  }
}
