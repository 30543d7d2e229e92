package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.Job;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Refused;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.jobs.JobMapper;
import glenmoor.store.jobs.JobMapper.NewJob;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.InputStream;
import java.security.SecureRandom;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Long work that somebody waits for, or comes back to: begun here, in the transaction of what
 * begins it, and shown with how far it is and what it came to. {@link JobRunner} does it.
 */
@Named
public final class Jobs implements RecurringJob.Owner {
  private static final JsonMapper JSON = ApiJson.mapper();

  /** Content that was brought for work which was never begun is dropped after so long. */
  private static final Duration LEFT = Duration.ofHours(6);

  /** Identities of work cannot be guessed, and are exact where JSON's numbers are doubles. */
  private static final long LARGEST_ID = 1L << 53;

  private final SecureRandom random = new SecureRandom();
  private final Map<String, LongWork<?>> kinds = new ConcurrentHashMap<>();
  private final JobMapper mapper;
  private final WorkContents contents;
  private final JobQueue queue;
  private final Transactions transactions;
  private final Clock clock;

  public Jobs(
      JobMapper mapper,
      WorkContents contents,
      JobQueue queue,
      Transactions transactions,
      Clock clock) {
    this.mapper = mapper;
    this.contents = contents;
    this.queue = queue;
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

  static String cut(String text, int longest) {
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
