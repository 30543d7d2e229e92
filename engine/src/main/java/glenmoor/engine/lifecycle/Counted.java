package glenmoor.engine.lifecycle;

/** Numbers of things, in words that fit one and many. */
final class Counted {
  private Counted() {}

  /** What people whom a feed does not name wait for, without its full stop. */
  static String waiting(int count) {
    return "%s not named, and %s only if the next full feeds do not name them either"
        .formatted(
            count == 1 ? "1 person was" : "%,d people were".formatted(count),
            count == 1 ? "has left" : "have left");
  }

  static String rows(int count, String one, String many) {
    return count == 1 ? "1 row " + one : "%,d rows %s".formatted(count, many);
  }
}
