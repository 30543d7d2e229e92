package glenmoor.core.tasks;

import glenmoor.core.authorization.Duty;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Who is told when tasks and faults of an application wait long.
 *
 * @param remind after so long, and again after as long, its fixers are told
 * @param escalate after so long, and again after as long, whoever answers for it is told, too;
 *     nothing for never
 * @param letter the key of the letter that tells them
 */
public record TaskWatch(
    String application, Duration remind, Optional<Duration> escalate, String letter) {
  /** Whom it is about to be told. */
  public enum Tell {
    FIXERS("remind", Duty.FIXER),
    OWNERS("escalate", Duty.APPLICATION_OWNER);

    private final String word;
    private final Duty duty;

    Tell(String word, Duty duty) {
      this.word = word;
      this.duty = duty;
    }

    public String word() {
      return word;
    }

    public Duty duty() {
      return duty;
    }
  }

  /** After how long they are told; nothing for never. */
  public Optional<Duration> after(Tell tell) {
    return switch (tell) {
      case FIXERS -> Optional.of(remind);
      case OWNERS -> escalate;
    };
  }

  /**
   * When they are to be told next: once something has waited for so long that was not told of yet,
   * and of the same things again after as long.
   *
   * @param oldest since when the oldest waits
   * @param untold since when the oldest waits that they were not told of; null for none
   * @param told when they were told last; null for never
   */
  public static Instant next(
      Duration after, Instant oldest, @Nullable Instant untold, @Nullable Instant told) {
    if (told == null) {
      return oldest.plus(after);
    }
    var again = told.plus(after);
    var first = untold == null ? again : untold.plus(after);
    return first.isBefore(again) ? first : again;
  }
}
