package glenmoor.core.brakes;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Limits beyond which a change waits as a whole until somebody releases it.
 *
 * <p>Each limit is a number and a share of all people concerned: more than the number is too many
 * everywhere; more than the share is too many too, except that a handful never is, or a company of
 * ten could lose nobody.
 */
public record Brakes(Map<Measure, Limit> limits) {
  /** So few are let pass whatever share they are. */
  public static final int HANDFUL = 5;

  /** What is counted. */
  public enum Measure {
    /** People who leave by what their row says. */
    LEAVERS("leavers", "would leave"),
    /** People whom a full feed no longer names. */
    MISSING("missing", "are missing from the file"),
    /** People who do other work. */
    MOVERS("movers", "would move"),
    /** Rows that cannot be used. */
    REJECTED("rejected", "have rows that cannot be used"),
    /** People who would lose access they have. */
    LOSING("losing", "would lose access"),
    /** People who would get access they do not have. */
    GAINING("gaining", "would gain access"),
    /** People who would get a privileged entitlement: one whose risk is high or critical. */
    PRIVILEGED("privileged", "would gain a privileged entitlement"),
    /** People who would break a conflict rule that they do not break now. */
    CONFLICTING("conflicting", "would break a conflict rule"),
    /** People of whom an account would be changed back to what it should be. */
    REPAIRED("repaired", "would have an account repaired"),
    /** People for whom one playbook begins within a day. */
    PLAYED("played", "would have it played for them within a day");

    private final String word;
    private final String happens;

    Measure(String word, String happens) {
      this.word = word;
      this.happens = happens;
    }

    public String word() {
      return word;
    }

    public static Optional<Measure> ofWord(String word) {
      return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
    }
  }

  /** A number, and a share in percent. */
  public record Limit(int number, int percent) {
    boolean exceeded(int count, int of) {
      return count > number || count > HANDFUL && count * 100L > (long) percent * of;
    }

    @Override
    public String toString() {
      return number + " or " + percent + " %";
    }
  }

  /** What a change comes to; {@code people} is of how many it speaks. */
  public record Measured(Map<Measure, Integer> counts, int people) {
    public int count(Measure measure) {
      return counts.getOrDefault(measure, 0);
    }
  }

  /** What a new installation has without asking. */
  public static final Brakes USUAL_FOR_FEEDS =
      new Brakes(
          Map.of(
              Measure.LEAVERS, new Limit(200, 5),
              Measure.MISSING, new Limit(100, 5),
              Measure.MOVERS, new Limit(500, 25),
              Measure.REJECTED, new Limit(100, 5),
              Measure.LOSING, new Limit(500, 20)));

  public static final Brakes USUAL_FOR_DEFINITIONS =
      new Brakes(
          Map.of(
              Measure.LOSING, new Limit(100, 10),
              Measure.GAINING, new Limit(500, 50),
              Measure.PRIVILEGED, new Limit(20, 5),
              Measure.CONFLICTING, new Limit(10, 5)));

  public static final Brakes USUAL_FOR_RECONCILES =
      new Brakes(Map.of(Measure.LOSING, new Limit(50, 5), Measure.REPAIRED, new Limit(200, 10)));

  public static final Brakes USUAL_FOR_PLAYBOOKS =
      new Brakes(Map.of(Measure.PLAYED, new Limit(200, 25)));

  public static final Brakes USUAL_FOR_CAMPAIGNS =
      new Brakes(Map.of(Measure.LOSING, new Limit(200, 20)));

  public Brakes {
    var sorted = new EnumMap<Measure, Limit>(Measure.class);
    sorted.putAll(limits);
    limits = Collections.unmodifiableMap(sorted);
  }

  /** The same with some limits changed. */
  public Brakes with(Map<Measure, Limit> changed) {
    var all = new EnumMap<Measure, Limit>(Measure.class);
    all.putAll(limits);
    all.putAll(changed);
    return new Brakes(all);
  }

  /**
   * Why a change has to wait, a sentence for each limit; nothing where it need not.
   *
   * @param allowed counts that somebody has released already
   */
  public List<String> hold(Measured measured, Map<Measure, Integer> allowed) {
    var sentences = new ArrayList<String>();
    limits.forEach((measure, limit) -> {
      var count = measured.count(measure);
      if (count > allowed.getOrDefault(measure, 0) && limit.exceeded(count, measured.people())) {
        sentences.add(
            "%,d of %,d people %s; the brake is at %s"
                .formatted(count, measured.people(), measure.happens, limit));
      }
    });
    return sentences;
  }
}
