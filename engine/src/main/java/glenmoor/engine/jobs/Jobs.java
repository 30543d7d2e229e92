package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.Job;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Refused;
import glenmoor.engine.time.Clock;
import glenmoor.store.jobs.JobMapper;
import jakarta.inject.Named;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/** Long work that somebody waits for, or comes back to: how far it is, and what it came to. */
@Named
public final class Jobs implements AutoCloseable, RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Jobs.class);
  private static final JsonMapper JSON = ApiJson.mapper();
  private static final int LONGEST_SENTENCE = 1_000;

  /** Told by the work while it goes on. */
  public interface ProgressReporter {
    /** The identity of the work. */
    long work();

    void at(int done, int total, String sentence);
  }

  /** Work that has not shown itself for so long, by the database's time, died with its service. */
  public static final Duration DEAD_AFTER = Duration.ofSeconds(12);

  private static final int MOST_TRIES = 120;
  private static final Duration BETWEEN_TRIES = Duration.ofSeconds(1);
  private static final Duration BEAT = Duration.ofSeconds(3);

  /** After so long it is told apart whether work goes on or has died. */
  public static final Duration TOLD_DEAD_AFTER = DEAD_AFTER.plus(BEAT);

  private final Set<Long> running = ConcurrentHashMap.newKeySet();

  /** Identities of work cannot be guessed, and are exact where JSON's numbers are doubles. */
  private static final long LARGEST_ID = 1L << 53;

  private final SecureRandom random = new SecureRandom();
  private final JobMapper mapper;
  private final Clock clock;
  private volatile boolean closed;

  public Jobs(JobMapper mapper, Clock clock) {
    this.mapper = mapper;
    this.clock = clock;
  }

  /**
   * Starts work on a thread of its own.
   *
   * @param owner who asked for it, and may follow it
   * @param work gives what it came to, in a form that JSON can carry
   * @return the identity to ask about it by
   */
  public long start(String what, Actor owner, Function<ProgressReporter, Object> work) {
    var started = clock.instant();
    var first =
        new Job(
            random.nextLong(1, LARGEST_ID),
            what,
            "running",
            0,
            0,
            "started",
            "null",
            started,
            null,
            owner.login());
    mapper.insert(first);
    Thread.ofVirtual().name("job-" + first.id()).start(() -> run(first, work));
    return first.id();
  }

  /** Begins to show, now and then, that the work here still goes on. */
  public void beat() {
    Thread.ofVirtual()
        .name("job-beat")
        .start(() -> {
          while (!closed) {
            show();
          }
        });
  }

  private void show() {
    try {
      Thread.sleep(BEAT);
      if (!running.isEmpty()) {
        mapper.alive(List.copyOf(running));
      }
    } catch (InterruptedException stopped) {
      closed = true;
      Thread.currentThread().interrupt();
    } catch (RuntimeException away) {
      LOG.debug("Work here cannot be shown to go on just now", away);
    }
  }

  /** Closes what other services left undone when they ended. */
  public void closeDead() {
    mapper.closeDead(
        DEAD_AFTER.toSeconds(),
        clock.instant(),
        "The service ended while this went on. Look how far it came, and start it again if need be.");
  }

  private void run(Job first, Function<ProgressReporter, Object> work) {
    running.add(first.id());
    try {
      var result = work.apply(new Telling(first));
      end(first, "done", "done", JSON.writeValueAsString(result));
    } catch (Refused refused) {
      end(first, "refused", String.valueOf(refused.getMessage()), "null");
    } catch (RuntimeException failed) {
      LOG.error("{} (work {}) failed", first.what(), first.id(), failed);
      end(
          first,
          "failed",
          "It failed in a way it should not; the service's log says why, under work %d. Look how far it came before you start it again."
              .formatted(first.id()),
          "null");
    } finally {
      running.remove(first.id());
    }
  }

  private final class Telling implements ProgressReporter {
    private final Job row;

    Telling(Job row) {
      this.row = row;
    }

    @Override
    public long work() {
      return row.id();
    }

    @Override
    public void at(int done, int total, String sentence) {
      try {
        mapper.update(
            new Job(
                row.id(),
                row.what(),
                "running",
                done,
                total,
                sentence,
                "null",
                row.startedAt(),
                null,
                row.owner()));
      } catch (RuntimeException away) {
        // The work goes on, whether or not it can tell how far it is.
        LOG.debug("How far {} is cannot be told just now", row.what(), away);
      }
    }
  }

  private void end(Job row, String state, String sentence, String result) {
    var shown =
        sentence.length() > LONGEST_SENTENCE ? sentence.substring(0, LONGEST_SENTENCE) : sentence;
    var ended =
        new Job(
            row.id(),
            row.what(),
            state,
            0,
            0,
            shown,
            result,
            row.startedAt(),
            clock.instant(),
            row.owner());
    // What the work came to must not be lost because the database is away for a moment.
    for (var tries = 0; ; tries++) {
      try {
        mapper.update(ended);
        return;
      } catch (RuntimeException away) {
        if (tries == MOST_TRIES || closed) {
          LOG.error("What {} came to could not be kept: {}", row.what(), shown, away);
          return;
        }
        pause();
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(BETWEEN_TRIES);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /**
   * How far a piece of work is.
   *
   * @throws Refused if there is none, or it is somebody else's and the actor does not see
   *     everything
   */
  public Job of(long id, Actor actor) {
    var row = mapper.byId(id);
    if (row == null || !row.owner().equals(actor.login()) && !actor.may(Permission.SEE_ALL_WORK)) {
      throw Refused.notThere("You have no work numbered " + id + ".");
    }
    return row;
  }

  @Override
  public void close() {
    closed = true;
  }

  @Override
  public RecurringJob recurring() {
    return new RecurringJob(
        "work", "closes long work whose service ended", Duration.ofSeconds(10), this::closeDead);
  }
}
