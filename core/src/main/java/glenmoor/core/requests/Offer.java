package glenmoor.core.requests;

import glenmoor.core.conditions.Expressions.Condition;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The terms on which an audience may have a package.
 *
 * @param audience whom it is for; nothing for everybody
 * @param askedBy who may ask for somebody; empty where it is given directly only
 * @param open whether it takes new asks
 * @param reasonNeeded whether the asker has to say why
 * @param startsAhead how many days ahead it may begin
 * @param whileInAudience whether it ends once somebody is no longer in the audience
 * @param extendable whether it can be asked for longer before it ends
 * @param endingLetter the letter that tells somebody that it ends soon; empty for none
 */
public record Offer(
    String key,
    String name,
    String rolePackage,
    Optional<Condition> audience,
    Set<Asker> askedBy,
    boolean open,
    String route,
    Term term,
    boolean reasonNeeded,
    List<Question> questions,
    int startsAhead,
    boolean whileInAudience,
    boolean extendable,
    String endingLetter) {
  /** Who may ask for somebody. */
  public enum Asker {
    PERSON("person"),
    MANAGER("manager"),
    ANYONE("anyone"),
    NOBODY("nobody");

    private final String word;

    Asker(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
