package glenmoor.engine.lifecycle;

/** Numbers of things, in words that fit one and many. */
final class Counted {
  private Counted() {}

  static String rows(int count, String one, String many) {
    return count == 1 ? "1 row " + one : "%,d rows %s".formatted(count, many);
  }
}
