package glenmoor.standins.applications;

import java.time.Duration;
import java.time.Instant;

/** How an application behaves at the moment, because somebody told it to. */
record Mood(Mode mode, String reason, Instant until) {

  /** The ways in which it can behave. */
  enum Mode {
    /** As it should. */
    WELL,
    /** Closes connections without an answer. */
    DOWN,
    /** Answers 500. */
    BROKEN,
    /** Answers 429 with Retry-After. */
    BUSY,
    /** Takes longer to answer than anybody waits. */
    STALL,
    /** Says yes to changes, and forgets them. */
    FORGET,
    /** Answers changes with 403 and a reason. */
    REFUSE
  }

  static final Duration STALL_FOR = Duration.ofSeconds(15);
  static final Mood WELL = new Mood(Mode.WELL, "", Instant.MAX);

  /** The mood that counts now: a bad one passes when its time is over. */
  Mood now() {
    return Instant.now().isAfter(until) ? WELL : this;
  }
}
