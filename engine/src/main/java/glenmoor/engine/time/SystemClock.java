package glenmoor.engine.time;

import java.time.Instant;
import java.time.InstantSource;

/** The clock of a service that does real work. */
public final class SystemClock implements Clock {
  @Override
  public Instant instant() {
    return InstantSource.system().instant();
  }

  @Override
  public boolean movable() {
    return false;
  }
}
