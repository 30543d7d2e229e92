package glenmoor.engine.lifecycle;

import glenmoor.core.lifecycle.Source;
import java.util.Optional;

/** Makes worker numbers up for people of sources that have none. */
public interface WorkerNumbers {
  /** The next one; nothing where the source's people have some. */
  Optional<String> next(Source source);
}
