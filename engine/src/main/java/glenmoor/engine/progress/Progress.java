package glenmoor.engine.progress;

import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.store.agenda.Ids;
import glenmoor.store.progress.ProgressMapper;
import glenmoor.store.progress.ProgressMapper.ProgressRow;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/** Long work that somebody waits for, or comes back to: how far it is, and what it came to. */
public final class Progress {
  private static final Logger LOG = LoggerFactory.getLogger(Progress.class);
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int LONGEST_SENTENCE = 1_000;

  /** Told by the work while it goes on. */
  public interface Teller {
    void at(int done, int total, String sentence);
  }

  private final ProgressMapper mapper;
  private final Ids ids;
  private final Clock clock;

  public Progress(ProgressMapper mapper, Ids ids, Clock clock) {
    this.mapper = mapper;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Starts work on a thread of its own.
   *
   * @param work gives what it came to, in a form that JSON can carry
   * @return the identity to ask about it by
   */
  public long start(String what, Function<Teller, Object> work) {
    var started = clock.instant();
    var first =
        new ProgressRow(ids.next(), what, "running", 0, 0, "started", "null", started, null);
    mapper.insert(first);
    Thread.ofVirtual().name("progress-" + first.id()).start(() -> run(first, work));
    return first.id();
  }

  private void run(ProgressRow first, Function<Teller, Object> work) {
    try {
      var result =
          work.apply((done, total, sentence) -> mapper.update(with(first, done, total, sentence)));
      end(first, "done", "done", JSON.writeValueAsString(result));
    } catch (Refused refused) {
      end(first, "refused", String.valueOf(refused.getMessage()), "null");
    } catch (RuntimeException failed) {
      LOG.error("{} failed", first.what(), failed);
      end(first, "failed", "It failed, and nothing was changed: " + failed.getMessage(), "null");
    }
  }

  private static ProgressRow with(ProgressRow row, int done, int total, String sentence) {
    return new ProgressRow(
        row.id(), row.what(), "running", done, total, sentence, "null", row.startedAt(), null);
  }

  private void end(ProgressRow row, String state, String sentence, String result) {
    var shown =
        sentence.length() > LONGEST_SENTENCE ? sentence.substring(0, LONGEST_SENTENCE) : sentence;
    mapper.update(
        new ProgressRow(
            row.id(), row.what(), state, 0, 0, shown, result, row.startedAt(), clock.instant()));
  }

  public ProgressRow of(long id) {
    var row = mapper.byId(id);
    if (row == null) {
      throw Refused.notThere("There is no work numbered " + id + ".");
    }
    return row;
  }
}
