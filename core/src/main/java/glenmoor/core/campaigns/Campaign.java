package glenmoor.core.campaigns;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.HoldingCondition;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What is looked through from time to time, and by whom. One playing of it is a round.
 *
 * @param judged what an item is
 * @param offered the offer whose holders are looked through; nothing where it is about no one offer
 * @param people whose holdings; nothing for everybody's
 * @param holdings which of them; nothing for all
 * @param heldDays only what was there for at least so many days; 0 for all
 * @param movedDays only of people who moved within so many days; 0 for all
 * @param reviewers who judges
 * @param second who looks at what those decided; nothing for nobody
 * @param otherwise who judges where nobody else can; nothing for those who lead the campaign
 * @param peers the facts in which people are alike, so that their holdings are compared; none for
 *     no comparison
 * @param rhythm when rounds begin by themselves; nothing for by hand
 * @param onMove whether somebody who moves is a round by themselves
 * @param days how long a round goes on
 * @param nudges after how many days reviewers who are not done are reminded
 * @param escalateAfter after how many days their managers are told; 0 for never
 * @param closing what happens to what is undecided by then
 * @param answerDays how long a holder may answer before what was revoked goes; 0 for not at all
 * @param waitsLetter tells reviewers that something waits for them; empty for none
 * @param lateLetter tells others of reviewers who are late; empty for none
 * @param revokedLetter tells holders what goes; empty for none
 */
public record Campaign(
    String key,
    String name,
    Set<Judged> judged,
    Optional<Offered> offered,
    Optional<Condition> people,
    Optional<HoldingCondition> holdings,
    int heldDays,
    int movedDays,
    Reviewers reviewers,
    Optional<Reviewers> second,
    Optional<Reviewers> otherwise,
    List<String> peers,
    Optional<Schedule> rhythm,
    boolean onMove,
    int days,
    List<Integer> nudges,
    int escalateAfter,
    Closing closing,
    int answerDays,
    String waitsLetter,
    String lateLetter,
    String revokedLetter) {
  /**
   * With what the keys of campaigns begin that offers ask for; no other campaign has such a key.
   */
  public static final String OF_OFFER = "offer.";

  /** An offer, and the package that it gives. */
  public record Offered(String offer, String rolePackage) {}

  /** What an item is. */
  public enum Judged {
    ENTITLEMENTS("entitlements", "entitlement"),
    PACKAGES("packages", "package"),
    ACCOUNTS("accounts", "account"),
    STRAY_ACCOUNTS("stray-accounts", "stray"),
    SERVICE_ACCOUNTS("service-accounts", "service");

    private final String word;
    private final String one;

    Judged(String word, String one) {
      this.word = word;
      this.one = one;
    }

    /** The word of it in definitions. */
    public String word() {
      return word;
    }

    /** The word for one of them, as it is kept with an item. */
    public String one() {
      return one;
    }
  }

  /** What happens to items that are undecided when a round is over. */
  public enum Closing {
    REVOKE("revoke"),
    KEEP("keep"),
    OWNER("owner");

    private final String word;

    Closing(String word) {
      this.word = word;
    }

    /**
     * @throws IllegalArgumentException if there is none of this word
     */
    public static Closing ofWord(String word) {
      return Arrays.stream(values())
          .filter(each -> each.word.equals(word))
          .findFirst()
          .orElseThrow(() -> new IllegalArgumentException("There is no closing rule " + word));
    }

    public String word() {
      return word;
    }
  }

  /** Whether people judge what they hold themselves. */
  public boolean selfReview() {
    return reviewers instanceof Reviewers.Holders;
  }
}
