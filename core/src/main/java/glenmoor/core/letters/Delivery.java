package glenmoor.core.letters;

/** What came of handing a message to the outside. */
public sealed interface Delivery {
  /**
   * It was taken.
   *
   * @param answer what the other end calls it; may be empty
   */
  record Taken(String answer) implements Delivery {}

  /**
   * It was not taken now, and may be later.
   *
   * @param reason a sentence
   */
  record NotNow(String reason) implements Delivery {}

  /** It will never be taken as it is. */
  record Refused(String reason) implements Delivery {}
}
