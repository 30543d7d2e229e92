package glenmoor.core.lifecycle;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * That somebody was cut off, and what became of it.
 *
 * @param event the leaver that came of it
 * @param endedAt when it was over; null while it is in force
 * @param endedBy who ended it; {@code glenmoor} where the source came to say the same
 * @param ending {@code brought-back}, or {@code agreed} where the source says by itself that they
 *     have left; empty while it is in force
 * @param endEvent the rehire that came of bringing them back; null without one
 */
public record CutOff(
    Long id,
    Long personId,
    String workerNumber,
    String personName,
    Instant at,
    String byLogin,
    String reason,
    Long event,
    @Nullable Instant endedAt,
    String endedBy,
    String ending,
    String endReason,
    @Nullable Long endEvent) {

  /** How a cut-off ends. */
  public enum Ending {
    BROUGHT_BACK("brought-back"),
    AGREED("agreed");

    private final String word;

    Ending(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
