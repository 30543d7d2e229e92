package glenmoor.engine.time;

import java.time.InstantSource;

/** What time it is for everything that Glenmoor decides. */
public interface Clock extends InstantSource {
  /** Whether it can be moved: only in a demo or test. */
  boolean movable();
}
