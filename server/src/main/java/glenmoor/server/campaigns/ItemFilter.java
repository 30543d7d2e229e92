package glenmoor.server.campaigns;

import glenmoor.core.campaigns.ItemSearch;
import glenmoor.engine.Refused;
import glenmoor.engine.campaigns.ItemViews.ItemShown;
import glenmoor.server.Lists;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Which items of a round or a review.
 *
 * @param state undecided, decided, open, kept, announced, removing, gone, handed, again, ended or
 *     following
 * @param judgement keep or revoke
 * @param suggestion keep, look or revoke
 * @param target the key of what is held
 * @param worker whose
 * @param only privileged, conflict or idle
 * @param by person, or target: in the order of what is held
 */
record ItemFilter(
    @Nullable String state,
    @Nullable String judgement,
    @Nullable String suggestion,
    @Nullable String application,
    @Nullable String target,
    @Nullable String worker,
    @Nullable List<String> only,
    @Nullable String by) {
  private static final Set<String> STATES =
      Set.of(
          "undecided",
          "decided",
          "open",
          "kept",
          "announced",
          "removing",
          "gone",
          "handed",
          "again",
          "ended",
          "following");
  private static final Set<String> ONLY = Set.of("privileged", "conflict", "idle");

  private boolean isOnly(String what) {
    return only != null && only.contains(what);
  }

  private ItemSearch.Order order() {
    return "target".equals(by) ? ItemSearch.Order.TARGET : ItemSearch.Order.PERSON;
  }

  private void check() {
    if (state != null && !STATES.contains(state)) {
      throw Refused.mistake(
          "state", "There is no state “%s”; there are %s.".formatted(state, words(STATES)));
    }
    if (only != null && !ONLY.containsAll(only)) {
      throw Refused.mistake("only", "only is one of %s.".formatted(words(ONLY)));
    }
  }

  private static String words(Set<String> all) {
    return String.join(", ", all.stream().sorted().toList());
  }

  /** The search for it. */
  ItemSearch of(long round, @Nullable Long review, @Nullable String after, int limit) {
    check();
    return new ItemSearch(
        round,
        review,
        state,
        judgement,
        suggestion,
        application,
        target,
        worker,
        isOnly("privileged"),
        isOnly("conflict"),
        isOnly("idle"),
        order(),
        Lists.number(after, 0),
        limit);
  }

  /** A page of what a search finds. */
  Lists.Page<ItemShown> page(
      ItemSearch search, int limit, Function<ItemSearch, List<ItemShown>> found) {
    return Lists.page(found.apply(search), limit, each -> each, each -> String.valueOf(each.id()));
  }
}
