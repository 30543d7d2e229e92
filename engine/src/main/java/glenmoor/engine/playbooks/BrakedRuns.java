package glenmoor.engine.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.playbooks.Playbook;
import glenmoor.core.playbooks.RunState;
import glenmoor.engine.Authorization;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import jakarta.inject.Named;
import java.io.InputStream;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;

/**
 * Runs that the brake on playbooks holds. Those of one playbook are one held change: released, all
 * of them go on, those too that joined them since; dropped, all of them end.
 */
@Named
final class BrakedRuns implements HeldChanges.Releasing {
  private static final String KIND = "playbook";
  private static final int AT_ONCE = 200;
  private static final int NAMED = 200;

  /** How the reason of a run begins that a brake holds. */
  static final String REASON = "The brake on playbooks holds it: ";

  /** For whom a playbook would be played, and the day it would be about. */
  public record HeldRun(String worker, String name, LocalDate day) {}

  /**
   * Runs that were held at once.
   *
   * @param steps how many each of them has
   * @param people of the first 200
   */
  public record HeldRuns(String playbook, String name, int runs, int steps, List<HeldRun> people) {}

  /** What letting them go came to. */
  public record ReleasedRuns(String playbook, int runs) {}

  private final PlaybookRunMapper runs;
  private final RunEnds ends;
  private final HeldChanges held;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  BrakedRuns(
      PlaybookRunMapper runs,
      RunEnds ends,
      HeldChanges held,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.runs = runs;
    this.ends = ends;
    this.held = held;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
    held.carriedOutBy(KIND, this);
  }

  private static String what(String playbook) {
    return "playbook " + playbook;
  }

  /** Notes that runs of a playbook are held, inside the transaction that begins them. */
  void hold(Playbook playbook, String sentence, Measured measured, List<HeldRun> people) {
    if (held.waiting(KIND, what(playbook.key())).isPresent()) {
      return;
    }
    var forecast =
        new HeldRuns(
            playbook.key(),
            playbook.name(),
            people.size(),
            playbook.steps().size(),
            people.stream().limit(NAMED).toList());
    held.hold(
        new HeldChanges.Holding(
            KIND,
            what(playbook.key()),
            sentence,
            measured,
            forecast,
            Map.of("playbook", playbook.key())),
        InputStream.nullInputStream(),
        Actor.SERVICE);
  }

  /**
   * Lets all runs of a playbook go on, and notes that nothing of it waits any more.
   *
   * @return how many
   */
  int release(String playbook, String reason, Actor actor) {
    var released = letGo(playbook, reason, actor);
    held.settled(KIND, what(playbook), reason, actor);
    return released;
  }

  private int letGo(String playbook, String reason, Actor actor) {
    return each(
        playbook,
        "playbook-brake-released",
        reason,
        actor,
        run -> {
          if (RunRows.state(run) instanceof RunState.Held state) {
            runs.update(RunRows.with(run, state.before(), run.day(), null));
          }
        });
  }

  private int each(
      String playbook, String what, String reason, Actor actor, Consumer<RunRow> decide) {
    var done = 0;
    int batch;
    do {
      batch = transactions.run(() -> batch(playbook, what, reason, actor, decide));
      done += batch;
    } while (batch == AT_ONCE);
    return done;
  }

  private int batch(
      String playbook, String what, String reason, Actor actor, Consumer<RunRow> decide) {
    var braked = runs.braked(playbook, REASON, AT_ONCE);
    braked.forEach(decide);
    if (!braked.isEmpty()) {
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "playbook:" + playbook,
              what,
              Map.of(),
              Map.of("runs", braked.size(), "reason", reason)));
    }
    return braked.size();
  }

  @Override
  public Permission needs() {
    return Permission.PLAY_PLAYBOOKS;
  }

  @Override
  public void check(Map<String, Object> details) {
    // Whatever is still held can be let go; where nothing is, nothing happens.
  }

  @Override
  public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    Authorization.need(actor, needs());
    var playbook = playbook(released.details());
    return new ReleasedRuns(
        playbook, letGo(playbook, "released as held change " + released.id(), actor));
  }

  @Override
  public void dropped(Map<String, Object> details, String note, Actor actor) {
    Authorization.need(actor, needs());
    each(
        playbook(details),
        "playbook-brake-dropped",
        note,
        actor,
        run -> ends.end(run, note, actor.login()));
  }

  private static String playbook(Map<String, Object> details) {
    return String.valueOf(details.get("playbook"));
  }

  @Override
  public Class<?> forecast() {
    return HeldRuns.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(ReleasedRuns.class);
  }
}
