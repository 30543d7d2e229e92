package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.engine.playbooks.RunRows.Awaited;
import org.jspecify.annotations.Nullable;

/**
 * What came of doing a step.
 *
 * @param reference what it began elsewhere; null leaves what is noted
 * @param awaits how an account is to be seen before it goes on; null for nothing
 */
record Did(Outcome outcome, @Nullable String reference, @Nullable Awaited awaits) {
  static Did of(Outcome outcome) {
    return new Did(outcome, null, null);
  }

  static Did done(String what) {
    return of(new Outcome.Done(what));
  }

  static Did failed(String why) {
    return of(new Outcome.Failed(why));
  }
}
