package glenmoor.engine.requests;

import org.jspecify.annotations.Nullable;

/**
 * Who moves a line.
 *
 * @param login their sign-in, or {@code glenmoor}
 * @param inPlaceOf in whose place; null for in their own
 */
record Mover(String login, @Nullable Long inPlaceOf) {
  static final Mover CLOCK = new Mover("glenmoor", null);
}
