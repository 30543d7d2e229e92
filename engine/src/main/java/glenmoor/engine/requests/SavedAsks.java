package glenmoor.engine.requests;

import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.requests.SavedAskMapper;
import glenmoor.store.requests.SavedAskMapper.SavedRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/**
 * Sets of what somebody asks for again and again. Each belongs to one sign-in, is only theirs, and
 * gives nothing by itself: what is asked with it is checked as any other ask.
 */
@Named
public final class SavedAsks {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int MOST = 50;
  private static final int MOST_LINES = 50;
  private static final int LONGEST_NAME = 100;
  private static final int LONGEST = 20_000;

  /** One thing of a set. */
  public record SavedLine(String offer, Map<String, String> answers, String reason) {}

  /** A set. */
  public record SavedSet(long id, String name, List<SavedLine> lines, Instant savedAt) {}

  private final SavedAskMapper saved;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  SavedAsks(SavedAskMapper saved, Transactions transactions, Ids ids, Clock clock) {
    this.saved = saved;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /** Those of a sign-in, by name. */
  public List<SavedSet> list(String login) {
    return saved.of(login).stream()
        .map(row ->
            new SavedSet(
                row.id(),
                row.name(),
                List.of(JSON.readValue(row.asks(), SavedLine[].class)),
                row.savedAt()))
        .toList();
  }

  /**
   * Keeps a set, in the place of that of the same name.
   *
   * @throws Refused if it has no name or nothing in it, or they have too many
   */
  public void save(String name, List<SavedLine> lines, String login) {
    var called = name.strip();
    if (called.isEmpty() || called.length() > LONGEST_NAME) {
      throw Refused.badInput("A set has a name of at most %d characters.".formatted(LONGEST_NAME));
    }
    if (lines.isEmpty() || lines.size() > MOST_LINES) {
      throw Refused.badInput(
          "A set has from 1 to %d things in it; this has %d.".formatted(MOST_LINES, lines.size()));
    }
    if (lines.stream().anyMatch(line -> line.reason().length() > StatedReason.LONGEST)) {
      throw Refused.badInput(
          "A reason has at most %,d characters.".formatted(StatedReason.LONGEST));
    }
    var asks = JSON.writeValueAsString(lines);
    if (asks.length() > LONGEST) {
      throw Refused.badInput("That is more than a set can hold; divide it.");
    }
    transactions.run(() -> {
      if (saved.count(login) >= MOST
          && saved.of(login).stream().noneMatch(row -> row.name().equals(called))) {
        throw new Refused(
            Refused.Reason.TOO_MANY, "You have %d sets already; drop one first.".formatted(MOST));
      }
      saved.put(new SavedRow(ids.next(), login, called, asks, clock.instant()));
    });
  }

  /**
   * Drops one of theirs.
   *
   * @throws Refused if they have none of that identity
   */
  public void drop(long id, String login) {
    transactions.run(() -> {
      if (saved.drop(login, id) == 0) {
        throw Refused.notThere("There is no set %d of yours.".formatted(id));
      }
    });
  }
}
