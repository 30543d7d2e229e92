package glenmoor.engine.agenda;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * Something besides people's plans that falls due. Every one there is gets carried out by the
 * sweep, and stopped at where a clock is moved.
 */
public interface FallsDue {
  /** The next moment at which there is something to do; null for never. */
  @Nullable Instant next();

  /** Does what is due now; harmless if done twice. */
  int carryOut();

  /** Whether there is something that can be done now. */
  boolean busy();
}
