package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.Job;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Refused;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.jobs.JobMapper;
import glenmoor.store.jobs.JobMapper.End;
import glenmoor.store.jobs.JobMapper.NewJob;
import glenmoor.store.jobs.JobMapper.Taken;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.TransientDataAccessException;
import org.springframework.transaction.TransactionException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Long work that somebody waits for, or comes back to: how far it is, and what it came to. It is
 * queued in the transaction that began it, taken up by any replica, and taken up anew when that
 * dies.
 */
@Named
public final class Jobs implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Jobs.class);
  private static final JsonMapper JSON = ApiJson.mapper();
  private static final int LONGEST_SENTENCE = 1_000;
  private static final int MOST_ATTEMPTS = 3;
  private static final Duration SOON = Duration.ofMillis(500);
  private static final Duration LATER = Duration.ofSeconds(3);

  /** Content that was brought for work which was never begun is dropped after so long. */
  private static final Duration LEFT = Duration.ofHours(6);

  /** Identities of work cannot be guessed, and are exact where JSON's numbers are doubles. */
  private static final long LARGEST_ID = 1L << 53;

  private final SecureRandom random = new SecureRandom();
  private final Map<String, LongWork<?>> kinds = new ConcurrentHashMap<>();
  private final JobMapper mapper;
  private final WorkContents contents;
  private final JobQueue queue;
  private final Askers askers;
  private final Transactions transactions;
  private final Clock clock;

  public Jobs(
      JobMapper mapper,
      WorkContents contents,
      JobQueue queue,
      Askers askers,
      Transactions transactions,
      Clock clock) {
    this.mapper = mapper;
    this.contents = contents;
    this.queue = queue;
    this.askers = askers;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Says who does a kind of work. */
  public void doneBy(LongWork<?> work) {
    kinds.put(work.kind(), work);
  }

  /** All kinds of work there are, by their words. */
  public Map<String, LongWork<?>> kinds() {
    return new TreeMap<>(kinds);
  }

  /** Work that is to begin: content may be kept for it before it does. */
  public long next() {
    return random.nextLong(1, LARGEST_ID);
  }

  /**
   * Keeps content for work that is to begin. Whether the asker may bring it was asked before.
   *
   * @throws IOException if it breaks off; nothing of it is kept then
   */
  public void keep(long work, InputStream content) throws IOException {
    contents.keep(work, content);
  }

  /**
   * Hands what work was given on to work that is to begin.
   *
   * @throws Refused if it is not of that kind, or not the actor's, or its content is gone
   */
  public Job handOn(long from, LongWork<?> kind, long to, Actor actor) {
    var row = of(from, actor);
    if (!row.kind().equals(kind.kind()) || !row.owner().equals(actor.login())) {
      throw Refused.notThere("You have no work numbered " + from + " of this kind.");
    }
    if (mapper.copyParts(from, to) == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "What work %d was given is kept for some hours only, and is gone; bring it again."
              .formatted(from));
    }
    return row;
  }

  /**
   * The file that work came to; only for whoever asked for it.
   *
   * @throws Refused if there is none, or it is kept no longer
   */
  public InputStream file(long id, Actor actor) {
    var row = of(id, actor);
    if (!row.owner().equals(actor.login())
        || !row.kind().equals("export")
        || !row.state().equals("done")) {
      throw Refused.notThere("You have no file of work " + id + ".");
    }
    if (mapper.part(id, 0) == null) {
      throw Refused.notThere(
          "The file of work %d was kept for some hours only, and is gone; export it again."
              .formatted(id));
    }
    return contents.read(id);
  }

  /** What work was given besides its content. */
  public <I> I input(long work, LongWork<I> kind) {
    return JSON.readValue(mapper.input(work), kind.input());
  }

  /** Forgets content of work that does not begin after all. */
  public void forget(long work) {
    contents.drop(work);
  }

  /** Begins work that needs nothing but its input. */
  public <I> long begin(LongWork<I> kind, String what, I input, Actor owner) {
    return begin(next(), kind, what, input, owner);
  }

  /**
   * Begins work: inside a transaction it is there once that is committed.
   *
   * @param work its identity, by {@link #next}
   * @param owner who asked for it, and may follow it
   * @return the identity to ask about it by
   */
  public <I> long begin(long work, LongWork<I> kind, String what, I input, Actor owner) {
    var limits =
        owner.limits().size() == Permission.values().length
            ? ""
            : owner.limits().stream()
                .map(Permission::word)
                .sorted()
                .collect(Collectors.joining(",", "only:", ""));
    transactions.run(() -> {
      mapper.insert(
          new NewJob(
              work,
              kind.kind(),
              cut(what, 200),
              JSON.writeValueAsString(input),
              owner.login(),
              limits,
              clock.instant()));
      queue.add(work);
    });
    return work;
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
    var kind = kinds.get(taken.kind());
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
      return again(taken, kind, input, away);
    } catch (RuntimeException failed) {
      return again(taken, kind, input, failed);
    }
  }

  /** A service that is stopping leaves its work to the next one; everything else has failed. */
  private <I> Optional<Duration> again(
      Taken taken, LongWork<I> kind, I input, RuntimeException failed) {
    if (Thread.interrupted()) {
      LOG.info("{} (work {}) is left to another service", taken.what(), taken.id());
      throw new Left();
    }
    var away =
        failed instanceof TransientDataAccessException
            || failed instanceof DataAccessResourceFailureException
            || failed instanceof TransactionException;
    if (away && taken.attempts() < MOST_ATTEMPTS) {
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
                cut(sentence, LONGEST_SENTENCE),
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
        shown = mapper.update(taken.id(), done, total, cut(sentence, LONGEST_SENTENCE));
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

  /**
   * The newest work first: the actor's own or, for those who see it, everybody's.
   *
   * @param open only what waits or goes on
   * @param before only what began before this work, null for all
   */
  public List<Job> list(boolean open, @Nullable Long before, int limit, Actor actor) {
    var owner = actor.may(Permission.SEE_ALL_WORK) ? null : actor.login();
    return mapper.list(owner, open, before, limit);
  }

  /**
   * Has work stop: at once where it waits, else as soon as it looks up. What was done already in
   * one transaction stays done.
   *
   * @throws Refused if it has ended, or is somebody else's
   */
  public Job cancel(long id, Actor actor) {
    var row = of(id, actor);
    if (!row.owner().equals(actor.login()) && !actor.may(Permission.CANCEL_WORK)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "%s asked for this work; only they, or an administrator, can cancel it."
              .formatted(row.owner()));
    }
    if (mapper.wantCancelled(id) == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Work %d cannot be cancelled any more: %s."
              .formatted(
                  id, row.open() ? "what it does is done" : "it is over, and was " + row.state()));
    }
    return of(id, actor);
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest - 1) + "…" : text;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "work",
            "drops files that were brought for work which never began",
            Duration.ofMinutes(10),
            () -> mapper.dropLeftParts(LEFT.toSeconds())));
  }
}
