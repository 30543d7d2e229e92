package glenmoor.engine.installation;

import glenmoor.engine.Refused;
import glenmoor.store.installation.InstallationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import org.jspecify.annotations.Nullable;

/**
 * Whether this installation acts: asked by whatever sends something. It is read from the database,
 * at most half a second ago; before this service has compared where it is, and once the record
 * lacks what was seen of it, the answer is that it does not.
 */
@Named
public final class InstallationState {
  private static final long FRESH = Duration.ofMillis(500).toNanos();

  private record Known(boolean quiet, long readAt) {}

  private final InstallationMapper mapper;
  private volatile @Nullable Known known;
  private volatile boolean proven;

  InstallationState(InstallationMapper mapper) {
    this.mapper = mapper;
  }

  /** Whether nothing may be sent. */
  public boolean quiet() {
    if (!proven) {
      return true;
    }
    var last = known;
    if (last != null && System.nanoTime() - last.readAt() < FRESH) {
      return last.quiet();
    }
    var row = mapper.show();
    var quiet = row == null || row.quietSince() != null;
    known = new Known(quiet, System.nanoTime());
    return quiet;
  }

  /**
   * @throws Refused while it is quiet
   */
  public void mayAct() {
    if (quiet()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "This installation is quiet, so nothing is sent. An administrator can release it: see glenmoor installation show.");
    }
  }

  /** Whether it was compared where this service is, and the record holds what was seen of it. */
  void proven(boolean is) {
    proven = is;
    forget();
  }

  /** Reads it again before the next answer. */
  void forget() {
    known = null;
  }
}
