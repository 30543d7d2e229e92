package glenmoor.engine.applications;

import glenmoor.engine.time.Clock;
import glenmoor.store.Ids;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.applications.HealthMapper.HealthRow;
import jakarta.inject.Named;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;

/** Keeps what is found out about the health of applications, by whatever speaks to them. */
@Named
final class HealthNotes {
  private static final Logger LOG = LoggerFactory.getLogger(HealthNotes.class);
  private static final int LONGEST_SENTENCE = 1_000;

  private final HealthMapper health;
  private final Ids ids;
  private final Clock clock;
  private final Map<String, String> lastHealth = new ConcurrentHashMap<>();

  HealthNotes(HealthMapper health, Ids ids, Clock clock) {
    this.health = health;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Writes health down when it turns, or the sentence does. Where it cannot be written just now,
   * the next to find it so writes it.
   */
  void note(String key, boolean well, String sentence) {
    var shown =
        sentence.length() > LONGEST_SENTENCE ? sentence.substring(0, LONGEST_SENTENCE) : sentence;
    var state = (well ? "well" : "unwell") + shown;
    if (state.equals(lastHealth.get(key))) {
      return;
    }
    try {
      var row = new HealthRow(key, well ? "well" : "unwell", shown, clock.instant());
      health.put(row);
      health.turn(ids.next(), row);
      lastHealth.put(key, state);
    } catch (DataAccessException away) {
      LOG.debug("The health of {} cannot be kept just now", key, away);
    }
  }

  /** Forgets what was last written: another service may have written something else since. */
  void lookAgain(String key) {
    lastHealth.remove(key);
  }
}
