package glenmoor.engine.people;

import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Who asks for something.
 *
 * @param worker the worker number of the person they are, or null for somebody who is none
 */
public record Actor(String login, String displayName, @Nullable String worker, Set<Duty> duties) {
  /** The service itself: what the clock and the connectors do. */
  public static final Actor SERVICE =
      new Actor("glenmoor", "Glenmoor", null, Set.of(Duty.ADMINISTRATOR));

  public boolean is(Duty duty) {
    return duties.contains(duty);
  }
}
