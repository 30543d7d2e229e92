package glenmoor.standins.applications;

import java.time.Duration;
import java.time.Instant;
import java.util.Locale;

/** How an application behaves at the moment, because somebody told it to. */
record FailureMode(Mode mode, String reason, Instant until) {

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
    /** Answers changes with 400 and a reason. */
    REFUSE,
    /** Lets nobody in: 403. */
    FORBID,
    /** Answers everything with a sign-in page and status 200. */
    SIGN_IN_PAGE,
    /** Answers everything with status 200 and nothing. */
    EMPTY,
    /** Answers everything with somebody's page for what is not there, and status 404. */
    NOT_FOUND_PAGE,
    /** Asked for one resource, gives another. */
    ANOTHER,
    /** Sends headers and half a body, and then nothing more. */
    HALF,
    /** Gives everybody, whatever the filter says. */
    IGNORE_FILTERS,
    /** Adds values where a list should be replaced. */
    ADD_ON_REPLACE,
    /** Knows no PATCH. */
    NO_PATCH,
    /** Does not understand filters over members. */
    NO_MEMBER_FILTERS;

    String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  static final Duration STALL_FOR = Duration.ofSeconds(15);
  static final FailureMode WELL = new FailureMode(Mode.WELL, "", Instant.MAX);

  /** What counts now: a failure passes when its time is over. */
  FailureMode now() {
    return Instant.now().isAfter(until) ? WELL : this;
  }
}
