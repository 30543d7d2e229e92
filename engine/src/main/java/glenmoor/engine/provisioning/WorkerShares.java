package glenmoor.engine.provisioning;

import glenmoor.store.provisioning.WorkerReplicaMapper;
import java.time.Duration;
import java.util.List;

/**
 * How much of what an application bears at once falls to this service: what its definition allows
 * is divided among all whose workers are at work, so that it holds however many there are.
 *
 * <p>One that begins waits until the others have seen it, and one that dies counts until it has
 * been silent for long: for a while less may be done at once than is allowed, never more.
 */
final class WorkerShares {
  private final WorkerReplicaMapper mapper;
  private final String replica;
  private final Duration silence;
  private volatile List<String> atWork = List.of();

  /**
   * @param replica this service's workers
   * @param silence longer than two intervals at which {@link #look} is called
   */
  WorkerShares(WorkerReplicaMapper mapper, String replica, Duration silence) {
    this.mapper = mapper;
    this.replica = replica;
    this.silence = silence;
  }

  /** Shows that this service is at work, and looks who else is. */
  void look() {
    mapper.alive(replica);
    atWork = mapper.atWork(Math.max(1, silence.toSeconds()));
  }

  /** Whether others have to learn of this service before it begins. */
  boolean others() {
    return atWork.size() > 1;
  }

  /** This service's share of so many for an application; 0 where the others do it all. */
  int of(int all, String application) {
    var services = atWork;
    var place = services.indexOf(replica);
    if (services.size() <= 1 || place < 0) {
      return all;
    }
    // What is left over falls to another one for each application.
    var turn = (place + Math.floorMod(application.hashCode(), services.size())) % services.size();
    return all / services.size() + (turn < all % services.size() ? 1 : 0);
  }

  /** This service's workers go home: the others need not wait for its silence. */
  void leave() {
    mapper.leave(replica);
    mapper.forgetDead();
  }
}
