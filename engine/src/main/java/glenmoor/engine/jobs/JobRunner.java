package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Refused;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.jobs.JobMapper;
import glenmoor.store.jobs.JobMapper.End;
import glenmoor.store.jobs.JobMapper.Taken;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.TransientDataAccessException;
import org.springframework.transaction.TransactionException;
import tools.jackson.databind.json.JsonMapper;

/** Does long work: takes it up, as whichever replica comes first, and ends it. */
@Named
public final class JobRunner {
  private static final Logger LOG = LoggerFactory.getLogger(JobRunner.class);
  private static final JsonMapper JSON = ApiJson.mapper();
  private static final int LONGEST_SENTENCE = 1_000;
  private static final int MOST_ATTEMPTS = 3;
  private static final Duration SOON = Duration.ofMillis(500);
  private static final Duration LATER = Duration.ofSeconds(3);

  private final Jobs jobs;
  private final JobMapper mapper;
  private final WorkContents contents;
  private final Askers askers;
  private final Transactions transactions;
  private final Clock clock;

  public JobRunner(
      Jobs jobs,
      JobMapper mapper,
      WorkContents contents,
      Askers askers,
      Transactions transactions,
      Clock clock) {
    this.jobs = jobs;
    this.mapper = mapper;
    this.contents = contents;
    this.askers = askers;
    this.transactions = transactions;
    this.clock = clock;
  }

  /**
   * Takes work up and does it.
   *
   * @return after how long it has to be taken up again; empty once it has ended
   */
  public Optional<Duration> run(long work) {
    if (mapper.take(work) == 0) {
      return Optional.empty();
    }
    var taken = mapper.taken(work);
    if (taken == null) {
      return Optional.empty();
    }
    var kind = jobs.kinds().get(taken.kind());
    return kind == null ? unknown(taken) : run(taken, kind);
  }

  /** A newer replica began it: one that knows it takes it up, for as long as one may be there. */
  private Optional<Duration> unknown(Taken taken) {
    LOG.warn("Work {} is of a kind that is not known here: {}", taken.id(), taken.kind());
    mapper.giveBack(taken.id(), "waits for a service that knows this kind of work");
    return Optional.of(LATER);
  }

  private <I> Optional<Duration> run(Taken taken, LongWork<I> kind) {
    var input = JSON.readValue(taken.input(), kind.input());
    if (taken.kept()) {
      return end(taken, kind, input, "done", "done", List.of());
    }
    if (taken.cancelWanted()) {
      return cancelled(taken, kind, input);
    }
    if (taken.attempts() > MOST_ATTEMPTS) {
      return end(
          taken,
          kind,
          input,
          "failed",
          "The service ended %d times while this went on, so it is given up. Look how far it came before you start it again."
              .formatted(MOST_ATTEMPTS),
          List.of());
    }
    try (var running = new Running(taken)) {
      var actor = actor(taken);
      var result = kind.run(input, actor, running);
      running.keep(result);
      return end(taken, kind, input, "done", "done", List.of());
    } catch (LongWork.NotYet later) {
      mapper.giveBack(taken.id(), String.valueOf(later.getMessage()));
      return Optional.of(SOON);
    } catch (WorkProgress.Cancelled cancelled) {
      return cancelled(taken, kind, input);
    } catch (Refused refused) {
      return end(
          taken, kind, input, "refused", String.valueOf(refused.getMessage()), refused.mistakes());
    } catch (TransientDataAccessException
        | DataAccessResourceFailureException
        | TransactionException away) {
      LOG.warn("{} (work {}) waits for the database", taken.what(), taken.id(), away);
      return again(taken, kind, input, away, taken.attempts() < MOST_ATTEMPTS);
    } catch (RuntimeException failed) {
      return again(taken, kind, input, failed, false);
    }
  }

  /** A service that is stopping leaves its work to the next one; everything else has failed. */
  private <I> Optional<Duration> again(
      Taken taken, LongWork<I> kind, I input, RuntimeException failed, boolean later) {
    if (Thread.interrupted()) {
      LOG.info("{} (work {}) is left to another service", taken.what(), taken.id());
      throw new Left();
    }
    if (later) {
      return Optional.of(LATER);
    }
    LOG.error("{} (work {}) failed", taken.what(), taken.id(), failed);
    return end(
        taken,
        kind,
        input,
        "failed",
        "It failed in a way it should not; the service's log says why, under work %d. Look how far it came before you start it again."
            .formatted(taken.id()),
        List.of());
  }

  /** The service stops while work goes on. */
  public static final class Left extends RuntimeException {
    private static final long serialVersionUID = 1;

    Left() {
      super("the service stops", null, false, false);
    }
  }

  private Actor actor(Taken taken) {
    if (taken.owner().equals(Actor.SERVICE.login())) {
      return Actor.SERVICE;
    }
    var actor =
        askers
            .named(taken.owner())
            .orElseThrow(() ->
                new Refused(
                    Refused.Reason.NOT_ALLOWED,
                    "%s, who asked for this, may not sign in any more, so nothing was done."
                        .formatted(taken.owner())));
    return taken.limits().isEmpty() ? actor : actor.limitedTo(limits(taken.limits()));
  }

  private static Set<Permission> limits(String words) {
    var limits = EnumSet.noneOf(Permission.class);
    Arrays.stream(words.substring("only:".length()).split(","))
        .forEach(word -> Permission.ofWord(word).ifPresent(limits::add));
    return limits;
  }

  private <I> Optional<Duration> cancelled(Taken taken, LongWork<I> kind, I input) {
    return end(taken, kind, input, "cancelled", kind.whenCancelled(), List.of());
  }

  private <I> Optional<Duration> end(
      Taken taken,
      LongWork<I> kind,
      I input,
      String state,
      String sentence,
      List<Refused.Mistake> mistakes) {
    var done = state.equals("done");
    try {
      transactions.run(() -> {
        var end =
            new End(
                taken.id(),
                state,
                Jobs.cut(sentence, LONGEST_SENTENCE),
                JSON.writeValueAsString(mistakes),
                clock.instant(),
                done);
        if (mapper.end(end) > 0) {
          kind.ended(input, taken.id(), done, sentence);
          if (!done || !kind.keepsContent()) {
            mapper.dropParts(taken.id());
          }
        }
      });
      return Optional.empty();
    } catch (RuntimeException away) {
      // What it came to must not be lost because the database is away for a moment.
      LOG.warn("What {} came to cannot be kept just now: {}", taken.what(), sentence, away);
      return Optional.of(LATER);
    }
  }

  private final class Running implements WorkProgress, AutoCloseable {
    private final Taken taken;
    private @Nullable Path file;
    private boolean kept;

    Running(Taken taken) {
      this.taken = taken;
    }

    @Override
    public long work() {
      return taken.id();
    }

    @Override
    public void at(int done, int total, String sentence) {
      int shown;
      try {
        shown = mapper.update(taken.id(), done, total, Jobs.cut(sentence, LONGEST_SENTENCE));
      } catch (RuntimeException away) {
        // The work goes on, whether or not it can tell how far it is.
        LOG.debug("How far {} is cannot be told just now", taken.what(), away);
        return;
      }
      if (shown == 0 && !kept) {
        var now = mapper.taken(taken.id());
        if (now == null || now.cancelWanted() && !now.kept()) {
          throw new Cancelled();
        }
      }
    }

    @Override
    public void keep(Object result) {
      if (!kept) {
        mapper.keep(taken.id(), JSON.writeValueAsString(result));
        kept = true;
      }
    }

    @Override
    public Path file() {
      if (file == null) {
        file = WorkContents.file(content());
      }
      return file;
    }

    @Override
    public InputStream content() {
      return contents.read(taken.id());
    }

    @Override
    public OutputStream output() throws IOException {
      return contents.write(taken.id());
    }

    @Override
    public void close() {
      WorkContents.delete(file);
    }
  }
}
