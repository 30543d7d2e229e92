package glenmoor.engine.jobs;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Path;

/** Told by long work while it goes on. */
public interface WorkProgress {
  /** The identity of the work. */
  long work();

  /**
   * Shows how far it is. Never called inside a transaction.
   *
   * @param done how much of {@code total} is done; both 0 where that cannot be told
   * @throws Cancelled if somebody wants it to stop, and it did not keep its result yet
   */
  void at(int done, int total, String sentence);

  /**
   * Keeps what it came to, inside the caller's transaction: from then on it counts as done, and is
   * neither cancelled nor done again.
   */
  void keep(Object result);

  /** What it was given besides its input, as a file that is deleted when the work ends. */
  Path file();

  /** The same, to be read once. */
  InputStream content();

  /** Where work writes a file that it comes to; what an earlier attempt wrote is gone. */
  OutputStream output() throws IOException;

  /** Somebody wants the work to stop. */
  final class Cancelled extends RuntimeException {
    private static final long serialVersionUID = 1;

    Cancelled() {
      super("cancelled", null, false, false);
    }
  }
}
