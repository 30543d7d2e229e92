package glenmoor.core.definitions;

/** What is wrong in a definition, where, and what to do about it. */
public record Problem(Tree.Place place, String sentence) {
  @Override
  public String toString() {
    return place + ": " + sentence;
  }
}
