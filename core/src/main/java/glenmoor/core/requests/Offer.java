package glenmoor.core.requests;

import glenmoor.core.campaigns.Campaign;
import glenmoor.core.conditions.Expressions.Condition;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * The terms on which an audience may have a package.
 *
 * @param audience whom it is for; nothing for everybody
 * @param askedBy who may ask for somebody; empty where it is given directly only
 * @param direct whether stewards of its portfolio may give it to somebody without an ask
 * @param open whether it takes new asks
 * @param reasonNeeded whether the asker has to say why
 * @param startsAhead how many days ahead it may begin
 * @param onMove what becomes of it when somebody moves
 * @param askedAnewDays how many days they keep it after a move while it is asked for anew
 * @param extendable whether it can be asked for longer before it ends
 * @param endingLetter the letter that tells somebody that it ends soon; empty for none
 * @param review how what it gave is looked through from time to time; nothing for not at all
 * @param tells who is told, beside people, of what becomes of it
 */
public record Offer(
    String key,
    String name,
    String rolePackage,
    Optional<Condition> audience,
    Set<Asker> askedBy,
    boolean direct,
    boolean open,
    String route,
    Term term,
    boolean reasonNeeded,
    List<Question> questions,
    int startsAhead,
    OnMove onMove,
    int askedAnewDays,
    boolean extendable,
    String endingLetter,
    Optional<Campaign> review,
    List<Telling> tells) {
  /** What becomes of what somebody has when they move. */
  public enum OnMove {
    /** It stays. */
    KEEP("keep"),
    /** It ends once they are no longer in the audience. */
    END("end"),
    /** Those who decide are asked anew, and it ends if they do not agree. */
    ASK("ask");

    private final String word;

    OnMove(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** Whether it ends once somebody is no longer in the audience. */
  public boolean whileInAudience() {
    return onMove == OnMove.END;
  }

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
