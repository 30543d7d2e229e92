package glenmoor.core.authorization;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A duty that somebody was given, how far it reaches, and for how long.
 *
 * @param from its first day; null where it began when it was given
 * @param until its last day; null where it is open-ended
 */
public record Assignment(
    Duty duty, Scope scope, @Nullable LocalDate from, @Nullable LocalDate until) {
  public Assignment {
    if (duty.within() != scope.kind()) {
      throw new IllegalArgumentException(
          "The duty %s is given for %s, not for %s"
              .formatted(duty.word(), duty.within().word(), scope.words()));
    }
  }

  /** A duty over everything, open-ended. */
  public static Assignment of(Duty duty) {
    return new Assignment(duty, Scope.EVERYTHING, null, null);
  }

  /** A duty over one application, open-ended. */
  public static Assignment of(Duty duty, String application) {
    return new Assignment(duty, Scope.application(application), null, null);
  }

  public boolean isInForce(LocalDate day) {
    return (from == null || !day.isBefore(from)) && (until == null || !day.isAfter(until));
  }

  /** For people to read: {@code fixer of directory}. */
  public String words() {
    return scope.kind() == Scope.Kind.EVERYTHING ? duty.word() : duty.word() + " of " + scope.key();
  }
}
