package glenmoor.engine.requests;

import glenmoor.connect.letters.ChannelHttp;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.ChannelKind;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.definitions.Catalogues;
import jakarta.inject.Named;
import java.util.Optional;

/**
 * Decisions by a button in a chat. The chat signs what it tells with the channel's secret, and says
 * who pressed; the key it was given has to be that person's.
 */
@Named
public final class ChatDecisions {
  /**
   * What a chat tells.
   *
   * @param worker who pressed the button
   * @param decision approve or decline
   */
  public record Pressed(String key, String worker, String decision, String reason) {}

  private final DecisionKeys keys;
  private final Catalogues catalogues;
  private final ChannelHttp channels;

  ChatDecisions(DecisionKeys keys, Catalogues catalogues, ConnectorSettings settings) {
    this.keys = keys;
    this.catalogues = catalogues;
    channels = new ChannelHttp(settings.environment());
  }

  /**
   * Whether a chat told this.
   *
   * @param body as it came
   * @throws Refused unless it is signed with the secret of a chat there is, not long ago
   */
  public void isFrom(String channel, String id, String timestamp, String signature, String body) {
    Optional.ofNullable(catalogues.current().defined().all(ChannelKind.class).get(channel))
        .filter(each -> each.kind() == Channel.Kind.CHAT)
        .filter(each -> channels.isSigned(each, id, timestamp, signature, body))
        .orElseThrow(() ->
            new Refused(Refused.Reason.NOT_ALLOWED, "The signature is not right, or too old."));
  }

  /**
   * Takes a decision that a chat told; ask {@link #isFrom} before.
   *
   * @throws Refused if the key is not that person's, or the decision cannot be taken
   */
  public ApprovalService.LineDecided take(Pressed pressed) {
    return keys.decideAs(pressed.key(), pressed.decision(), pressed.reason(), pressed.worker());
  }
}
