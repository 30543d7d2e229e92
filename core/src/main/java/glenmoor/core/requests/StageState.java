package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What one stage of a line's route is waiting for, and until when. */
public sealed interface StageState {
  /** Its turn has not come. */
  record Ahead() implements StageState {}

  /** Those who are asked can decide. */
  record Open(Times times) implements StageState {}

  /** One of them wants to wait until a moment; its clock stands still. */
  record Held(Times times, PersonId by, Instant at, Instant until, String reason)
      implements StageState {}

  /**
   * It is over.
   *
   * @param by who settled it; null for the clock, or for somebody who is no person
   */
  record Settled(Verdict verdict, Instant at, @Nullable PersonId by, String reason)
      implements StageState {}

  /** How a stage ended. */
  enum Verdict {
    MET("met", true),
    LEFT_OUT("left-out", true),
    DECLINED("declined", false),
    LAPSED("lapsed", false),
    DROPPED("dropped", false);

    private final String word;
    private final boolean goesOn;

    Verdict(String word, boolean goesOn) {
      this.word = word;
      this.goesOn = goesOn;
    }

    public String word() {
      return word;
    }

    /** Whether the line goes on after it. */
    public boolean goesOn() {
      return goesOn;
    }

    public static Optional<Verdict> ofWord(String word) {
      return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
    }
  }

  /**
   * How a stage's clock stands.
   *
   * @param since when it opened, or went on to others
   * @param stood for how long it stood still
   * @param nudged how many reminders went out
   * @param standbyJoined whether the standby approvers were asked
   * @param wentOn whether it lapsed once and went on to others
   */
  record Times(Instant since, Duration stood, int nudged, boolean standbyJoined, boolean wentOn) {
    static Times from(Instant now) {
      return new Times(now, Duration.ZERO, 0, false, false);
    }

    private Instant at(Duration after) {
      return since.plus(stood).plus(after);
    }

    /** When those who have not decided are reminded next; nothing for never. */
    public Optional<Instant> nextNudge(StageRule.Clock clock) {
      return nudged < clock.nudges().size()
          ? Optional.of(at(clock.nudges().get(nudged)))
          : Optional.empty();
    }

    /** When the standby approvers join in; nothing where they have, or there are none. */
    public Optional<Instant> standby(StageRule.Clock clock) {
      return standbyJoined || wentOn ? Optional.empty() : clock.standby().map(this::at);
    }

    /** When it is over without a decision. */
    public Instant lapse(StageRule.Clock clock) {
      return at(clock.lapse());
    }

    Times afterNudge() {
      return new Times(since, stood, nudged + 1, standbyJoined, wentOn);
    }

    Times afterStandby() {
      return new Times(since, stood, nudged, true, wentOn);
    }

    Times afterStanding(Duration more) {
      return new Times(since, stood.plus(more), nudged, standbyJoined, wentOn);
    }

    /** The clock of the others to whom it goes on, from the beginning. */
    static Times goneOn(Instant now) {
      return new Times(now, Duration.ZERO, 0, true, true);
    }
  }
}
