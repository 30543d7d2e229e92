package glenmoor.engine.agenda;

import glenmoor.store.agenda.AgendaMapper;
import java.time.Duration;
import java.time.Instant;
import java.util.Objects;

/**
 * The clock of a demo or test: starts at a given moment, ticks on from where it was left while the
 * service was down, and can be moved forward.
 */
public final class MovableClock implements Clock {
  private final AgendaMapper agenda;
  private Instant base;
  private long tickedFrom = System.nanoTime();

  public MovableClock(AgendaMapper agenda, Instant first) {
    this.agenda = agenda;
    this.base = Objects.requireNonNullElse(agenda.movableClock(), first);
    agenda.setMovableClock(base);
  }

  @Override
  public synchronized Instant instant() {
    var ticked = Duration.ofNanos(System.nanoTime() - tickedFrom);
    return base.plusNanos(ticked.toNanos() / 1_000 * 1_000);
  }

  /** Moves forward to a moment; one that has passed changes nothing. */
  public synchronized void moveTo(Instant moment) {
    if (moment.isAfter(instant())) {
      base = moment;
      tickedFrom = System.nanoTime();
      agenda.setMovableClock(moment);
    }
  }

  /** Remembers the time it is, so that a restart goes on from here. */
  public void remember() {
    agenda.setMovableClock(instant());
  }

  @Override
  public boolean movable() {
    return true;
  }
}
