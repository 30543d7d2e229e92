package glenmoor.engine.playbooks;

/**
 * What a step would do for somebody.
 *
 * @param good whether it could be done as things are now
 */
record Would(String sentence, boolean good) {
  static Would doIt(String sentence) {
    return new Would(sentence, true);
  }

  static Would not(String sentence) {
    return new Would(sentence, false);
  }
}
