package glenmoor.engine.provisioning;

import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.CannotHappen;
import glenmoor.core.provisioning.OperationState.RetryPolicy;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.engine.Refused;
import glenmoor.store.provisioning.OperationMapper.OperationRow;

/** The states of operations as their rows tell them. */
final class OperationStates {
  private OperationStates() {}

  static OperationState of(OperationRow row) {
    return switch (row.state()) {
      case "waiting" -> new OperationState.Waiting(row.attempts(), row.notBefore(), row.reason());
      case "fault" -> new OperationState.Fault(row.attempts(), row.notBefore(), row.reason());
      case "task" -> new OperationState.Task(row.notBefore(), row.reason());
      case "confirmed" ->
          new OperationState.Confirmed(row.attempts(), row.notBefore(), row.reason());
      case "by-hand" -> new OperationState.ByHand(row.notBefore(), row.reason());
      case "given-up" -> new OperationState.GivenUp(row.notBefore(), row.reason());
      case "superseded" ->
          new OperationState.Superseded(row.notBefore(), row.supersededBy(), row.reason());
      default -> throw new IllegalStateException("An operation cannot be " + row.state());
    };
  }

  /** The next state, or the sentence that says why there is none. */
  static OperationState moved(OperationState state, Transition transition) {
    try {
      return state.after(transition, RetryPolicy.USUAL);
    } catch (CannotHappen cannot) {
      throw new Refused(Refused.Reason.NOT_NOW, String.valueOf(cannot.getMessage()));
    }
  }
}
