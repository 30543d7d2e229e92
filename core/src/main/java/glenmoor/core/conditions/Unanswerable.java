package glenmoor.core.conditions;

/**
 * An expression that can be asked, but not of this person: it divides by nothing, cuts a text
 * shorter than it is, asks for an account that is not there. Neither yes nor no.
 */
public final class Unanswerable extends RuntimeException {
  private static final long serialVersionUID = 1;

  public Unanswerable(String sentence) {
    super(sentence);
  }
}
