package glenmoor.engine.agenda;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.definitions.DueMarks;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.DueWork;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.MovableClock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Carries out what falls due, in time order, and moves the clock where it can be moved.
 *
 * <p>Moving steps from due time to due time: each thing happens at its own moment, and what follows
 * from it is there before the next one comes due.
 */
@Named
public final class Agenda implements DueWork, RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Agenda.class);
  private static final Duration QUIET_WITHIN = Duration.ofSeconds(20);
  private static final Duration LOOK = Duration.ofMillis(20);

  private final Clock clock;
  private final Planning planning;
  private final OperationWorkers workers;
  private final PersonMapper people;
  private final OperationMapper operations;
  private final Connections connections;
  private final Jobs jobs;
  private final Ledger ledger;
  private final Transactions transactions;
  private final DueMarks marks;
  private final List<FallsDue> others;
  private final Moving moving = new Moving();

  public Agenda(
      Clock clock,
      Planning planning,
      OperationWorkers workers,
      PersonMapper people,
      OperationMapper operations,
      Connections connections,
      Jobs jobs,
      Ledger ledger,
      Transactions transactions,
      DueMarks marks,
      List<FallsDue> others) {
    this.marks = marks;
    this.others = others;
    this.transactions = transactions;
    this.clock = clock;
    this.planning = planning;
    this.workers = workers;
    this.people = people;
    this.operations = operations;
    this.connections = connections;
    this.jobs = jobs;
    this.ledger = ledger;
    jobs.doneBy(moving);
  }

  @Override
  public int sweep() {
    marks.carryOut();
    var planned = planning.planDue();
    if (planned > 0) {
      workers.wake();
    }
    if (clock instanceof MovableClock movable) {
      movable.remember();
    }
    return planned;
  }

  /**
   * Moves the clock forward.
   *
   * @return the identity of the work, to follow its progress
   */
  public long advance(Duration by, Actor actor) {
    Authorization.need(actor, Permission.MOVE_CLOCK);
    return advanceTo(clock.instant().plus(by), actor);
  }

  /**
   * Moves the clock forward to a moment: the same moment again finishes a move that was
   * interrupted.
   *
   * @return the identity of the work, to follow its progress
   */
  public long advanceTo(Instant to, Actor actor) {
    Authorization.need(actor, Permission.MOVE_CLOCK);
    if (!clock.movable()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "The clock of this service is the real one and cannot be moved; only a demo's can.");
    }
    var from = clock.instant();
    if (!to.isAfter(from)) {
      throw Refused.badInput(
          "The clock only moves forward, and it is %s already; say how far, such as 7d."
              .formatted(from));
    }
    return transactions.run(() -> {
      ledger.append(
          new LedgerEntry(
              from,
              actor.login(),
              "",
              "clock",
              "clock-moved",
              Map.of("at", from.toString()),
              Map.of("at", to.toString())));
      return jobs.begin(moving, "moving the clock to " + to, new Move(from, to), actor);
    });
  }

  /** From when to when the clock moves. */
  public record Move(Instant from, Instant to) {}

  /**
   * Where the clock was moved.
   *
   * @param steps how many moments it stopped at on the way
   */
  public record Moved(Instant from, Instant to, int steps) {}

  /** Done anew after a service died, it goes on from where the clock stands. */
  private final class Moving implements LongWork<Move> {
    @Override
    public String kind() {
      return "clock-advance";
    }

    @Override
    public Class<Move> input() {
      return Move.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Moved.class);
    }

    @Override
    public Object run(Move input, Actor actor, WorkProgress progress) {
      Authorization.need(actor, Permission.MOVE_CLOCK);
      var steps = move((MovableClock) clock, input.from(), input.to(), progress);
      return new Moved(input.from(), input.to(), steps);
    }

    @Override
    public String whenCancelled() {
      return "It was cancelled: the clock stays where it had come to.";
    }
  }

  private int move(MovableClock movable, Instant from, Instant to, WorkProgress progress) {
    var steps = 0;
    var days = (int) Duration.between(from, to).toDays();
    settle();
    while (true) {
      // A retry that is due later is no reason to stop: it is overdue at the next stop anyway.
      var next = next();
      if (next == null || next.isAfter(to)) {
        break;
      }
      movable.moveTo(next);
      steps++;
      progress.at((int) Duration.between(from, next).toDays(), days, "at " + next);
      settle();
    }
    movable.moveTo(to);
    settle();
    return steps;
  }

  private @Nullable Instant next() {
    return Stream.concat(
            Stream.ofNullable(people.nextDue()),
            others.stream().flatMap(other -> Stream.ofNullable(other.next())))
        .min(Instant::compareTo)
        .orElse(null);
  }

  /** Does all that can be done at this moment, and what follows from it at once. */
  private void settle() {
    var until = System.nanoTime() + QUIET_WITHIN.toNanos();
    do {
      sweep();
      quiet();
      others.forEach(FallsDue::carryOut);
    } while (System.nanoTime() < until && open());
  }

  private boolean open() {
    var now = clock.instant();
    return people.due(now, 1) > 0
        || operations.ready(now, connections.closed()) > 0
        || others.stream().anyMatch(FallsDue::busy);
  }

  /** Waits until everything that can be done at this moment is done, but not for ever. */
  private void quiet() {
    var until = System.nanoTime() + QUIET_WITHIN.toNanos();
    try {
      while (operations.ready(clock.instant(), connections.closed()) > 0
          && System.nanoTime() < until) {
        workers.wake();
        Thread.sleep(LOOK);
      }
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      LOG.info("Stopped while waiting for operations");
    }
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "sweep",
            "carries out what is due: planning for people, by date or by change",
            Duration.ofSeconds(1),
            this::sweep));
  }
}
