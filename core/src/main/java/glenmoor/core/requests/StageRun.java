package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * One stage of a line's route as it stands.
 *
 * @param approvers who is asked, or was when it was settled; empty where there was nobody, and then
 *     it waits for an administrator
 * @param opened when its turn came; null as long as it has not
 */
public record StageRun(
    StageRule rule, StageState state, List<Approver> approvers, @Nullable Instant opened) {
  public StageRun {
    approvers = List.copyOf(approvers);
  }

  StageRun with(StageState other) {
    return new StageRun(rule, other, approvers, opened);
  }

  StageRun with(List<Approver> others) {
    return new StageRun(rule, state, others, opened);
  }

  StageRun opened(StageState open, List<Approver> asked, Instant at) {
    return new StageRun(rule, open, asked, at);
  }

  /** Whether those who are asked can decide. */
  public boolean waits() {
    return switch (state) {
      case Ahead ahead -> false;
      case Open open -> true;
      case Held held -> true;
      case Settled settled -> false;
    };
  }

  /** Whether somebody is asked, and has not agreed. */
  public boolean asks(PersonId person) {
    return waits()
        && approvers.stream().anyMatch(each -> each.person().equals(person) && !each.agreed());
  }

  /** When its clock has something to do; nothing for never. */
  public Optional<Instant> due() {
    return switch (state) {
      case Ahead ahead -> Optional.empty();
      case Settled settled -> Optional.empty();
      case Held held -> Optional.of(held.until());
      case Open open ->
          Stream.of(
                  open.times().nextNudge(rule.clock()),
                  standby(open),
                  Optional.of(open.times().lapse(rule.clock())))
              .flatMap(Optional::stream)
              .min(Instant::compareTo);
    };
  }

  private Optional<Instant> standby(Open open) {
    return open.times().standby(rule.clock());
  }

  /**
   * Whether as many have agreed as must. A standby approver who agrees does it for all who have not
   * decided.
   */
  boolean agreed() {
    var first = approvers.stream().filter(each -> each.as() != Approver.As.STANDBY).toList();
    var standby =
        approvers.stream().anyMatch(each -> each.as() == Approver.As.STANDBY && each.agreed());
    return standby
        || switch (rule.agree()) {
          case ANY -> first.stream().anyMatch(Approver::agreed);
          case ALL -> !first.isEmpty() && first.stream().allMatch(Approver::agreed);
        };
  }
}
