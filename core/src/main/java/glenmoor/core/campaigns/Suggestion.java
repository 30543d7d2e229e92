package glenmoor.core.campaigns;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What Glenmoor would look at first, by rules that anybody can read here; nobody's decision. What
 * is unused, or explained by nothing, is suggested to go. What conflicts, is privileged, is rare
 * among peers or was revoked before is to be looked at closely. The rest is suggested to stay where
 * a rule gives it, most peers have it or it was kept before, and is to be looked at where nothing
 * speaks for it.
 *
 * @param reasons in sentences, the weightiest first
 */
public record Suggestion(What what, List<String> reasons) {
  /** Fewer peers than this say nothing. */
  public static final int FEWEST_PEERS = 4;

  /** What so few of a hundred peers have is rare among them. */
  public static final int RARE = 25;

  /** What so many of a hundred peers have is usual among them. */
  public static final int COMMON = 75;

  /** In the order of how much it asks of a reviewer. */
  public enum What {
    KEEP("keep"),
    LOOK("look"),
    REVOKE("revoke");

    private final String word;

    What(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /**
   * What it is made of.
   *
   * @param explained whether any grant gives it
   * @param byRule whether a rule does
   * @param peers people like the holder, with the same job; the holder counted
   * @param holding how many of them have it
   * @param before what was decided last time; null for nothing
   */
  public record Context(
      boolean idle,
      boolean conflict,
      boolean privileged,
      boolean explained,
      boolean byRule,
      @Nullable Integer peers,
      @Nullable Integer holding,
      @Nullable Judgement before) {
    private boolean rare() {
      return peers != null
          && holding != null
          && peers >= FEWEST_PEERS
          && holding * 100 < peers * RARE;
    }

    private boolean common() {
      return peers != null
          && holding != null
          && peers >= FEWEST_PEERS
          && holding * 100 >= peers * COMMON;
    }
  }

  /** The suggestion for an item. */
  public static Suggestion of(Context context) {
    var go = new ArrayList<String>();
    add(go, context.idle(), "It is idle: it was not used for longer than its application allows.");
    add(go, !context.explained(), "Nothing explains it: no rule, request or decision gives it.");
    var look = new ArrayList<String>();
    add(look, context.conflict(), "It is a part of a conflict.");
    add(look, context.privileged(), "It is privileged.");
    add(look, context.rare(), peers("Only %d of %d people with the same job have it.", context));
    add(look, context.before() == Judgement.REVOKE, "It was revoked last time, and is back.");
    var stay = new ArrayList<String>();
    add(stay, context.byRule(), "A rule gives it.");
    add(stay, context.common(), peers("%d of %d people with the same job have it.", context));
    add(stay, context.before() == Judgement.KEEP, "It was kept last time.");
    var all = new ArrayList<>(go);
    all.addAll(look);
    all.addAll(stay);
    if (!go.isEmpty()) {
      return new Suggestion(What.REVOKE, all);
    }
    if (look.isEmpty() && !stay.isEmpty()) {
      return new Suggestion(What.KEEP, all);
    }
    return new Suggestion(
        What.LOOK, all.isEmpty() ? List.of("Nothing speaks for it, and nothing against it.") : all);
  }

  private static void add(List<String> to, boolean holds, String sentence) {
    if (holds) {
      to.add(sentence);
    }
  }

  private static String peers(String sentence, Context context) {
    return context.peers() == null ? "" : sentence.formatted(context.holding(), context.peers());
  }
}
