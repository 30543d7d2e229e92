package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.Refused;
import java.util.List;

/**
 * One kind of long work, brought by the room that does it. Any replica may take it up, and may do
 * so again after one that died: it either does nothing twice, or keeps what it came to in the very
 * transaction that did it ({@link WorkProgress#keep}), after which it is not done again.
 *
 * @param <I> what it is given: a record that JSON can carry
 */
public interface LongWork<I> {
  /** One word, as the API tells it, such as {@code feed-load}. */
  String kind();

  /** What the input is read as. */
  Class<I> input();

  /** What it may come to. */
  List<Class<?>> results();

  /**
   * Does it.
   *
   * @param actor who asked for it, with what they may do by now
   * @return what it came to
   * @throws Refused if it cannot be done; nothing was changed then
   * @throws NotYet if it cannot be done yet, and shall be taken up again in a moment
   */
  Object run(I input, Actor actor, WorkProgress progress);

  /** Whether what it was given is kept for a while after it was done, to be given to other work. */
  default boolean keepsContent() {
    return false;
  }

  /** What is said of it when it was cancelled. */
  default String whenCancelled() {
    return "It was cancelled, and nothing was changed.";
  }

  /**
   * Told in the transaction that ends it.
   *
   * @param done whether it was done, or else refused, failed or cancelled
   * @param sentence how it ended
   */
  default void ended(I input, long work, boolean done, String sentence) {}

  /** Work that has to wait for something else, without keeping a thread for it. */
  final class NotYet extends RuntimeException {
    private static final long serialVersionUID = 1;

    /**
     * @param sentence what it waits for
     */
    public NotYet(String sentence) {
      super(sentence, null, false, false);
    }
  }
}
