package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.lifecycle.Source;
import java.nio.file.Path;
import java.util.Map;

/**
 * A file of people that was brought.
 *
 * @param allowed what somebody has released already, by what the brakes measure
 * @param cause what led to it, such as {@code held:12}, or empty
 */
record Delivery(
    Source source,
    String fileName,
    Path file,
    Actor actor,
    Map<Measure, Integer> allowed,
    String cause) {
  /** A file that somebody brings themselves, of which nothing was released. */
  static Delivery of(Source source, String fileName, Path file, Actor actor) {
    return new Delivery(source, fileName, file, actor, Map.of(), "");
  }
}
