package glenmoor.engine.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What people decide on several faults and tasks at once. */
@Named
public final class TaskService {
  private static final int MOST_AT_ONCE = 200;
  private static final List<String> DECISIONS = List.of("retry", "by-hand", "give-up");

  /** One that could not be decided, and why. */
  public record Left(long operation, String sentence) {}

  /** How many were decided; the others stay as they were. */
  public record Decided(int decided, List<Left> left) {}

  private final FaultService faults;
  private final RetryService retries;

  public TaskService(FaultService faults, RetryService retries) {
    this.faults = faults;
    this.retries = retries;
  }

  /**
   * Decides on each by itself: one that cannot be decided keeps no other from being.
   *
   * @param decision retry, by-hand or give-up
   * @param until with give-up: the last day of it; null for the usual 90 days
   * @throws Refused if nothing can be decided like this
   */
  public Decided decide(
      List<Long> operations,
      String decision,
      String reason,
      @Nullable LocalDate until,
      Actor actor) {
    Authorization.applications(actor, Permission.DECIDE_OPERATIONS);
    if (operations.isEmpty() || operations.size() > MOST_AT_ONCE) {
      throw Refused.badInput(
          "Say which operations: at least one, at most %,d at once.".formatted(MOST_AT_ONCE));
    }
    if (!DECISIONS.contains(decision)) {
      throw Refused.badInput(
          "There is no decision “%s”; say one of %s."
              .formatted(decision, String.join(", ", DECISIONS)));
    }
    if (!decision.equals("retry")) {
      new StatedReason(reason);
    }
    var left = new ArrayList<Left>();
    for (var id : operations.stream().distinct().toList()) {
      try {
        one(id, decision, reason, until, actor);
      } catch (Refused refused) {
        left.add(new Left(id, String.valueOf(refused.getMessage())));
      }
    }
    return new Decided((int) operations.stream().distinct().count() - left.size(), left);
  }

  private void one(
      long id, String decision, String reason, @Nullable LocalDate until, Actor actor) {
    switch (decision) {
      case "retry" -> retries.retry(id, actor);
      case "by-hand" -> faults.byHand(id, reason, actor);
      default -> faults.giveUp(id, reason, until, actor);
    }
  }
}
