package glenmoor.engine.lifecycle;

import java.util.List;

/** The work that was begun for what a source had, in its order. */
public record Collected(String source, List<Begun> begun) {
  /** A file and the work that loads it. */
  public record Begun(String fileName, long work) {}
}
