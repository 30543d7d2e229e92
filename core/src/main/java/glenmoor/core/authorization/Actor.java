package glenmoor.core.authorization;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Who asks for something.
 *
 * @param worker the worker number of the person they are, or null for somebody who is none
 * @param duties those in force
 * @param limits all that they may do besides what everybody may: a token may carry less than its
 *     owner's duties hold
 */
public record Actor(
    String login,
    String displayName,
    @Nullable String worker,
    List<Assignment> duties,
    Set<Permission> limits) {
  /** The service itself: what the clock and the connectors do. */
  public static final Actor SERVICE =
      new Actor("glenmoor", "Glenmoor", null, List.of(Assignment.of(Duty.ADMINISTRATOR)));

  public Actor(String login, String displayName, @Nullable String worker, List<Assignment> duties) {
    this(login, displayName, worker, duties, EnumSet.allOf(Permission.class));
  }

  /** The same, who may no more than this. */
  public Actor limitedTo(Set<Permission> permissions) {
    return new Actor(login, displayName, worker, duties, permissions);
  }

  /** Whether they may do something everywhere. */
  public boolean may(Permission permission) {
    return may(permission, Scope.EVERYTHING);
  }

  /** Whether they may do something to one thing; what is not allowed is denied. */
  public boolean may(Permission permission, Scope on) {
    return limits.contains(permission)
        && duties.stream()
            .anyMatch(each -> each.duty().holds(permission) && each.scope().covers(on));
  }

  /** Whether there is anything that they may do something to. */
  public boolean maySomewhere(Permission permission) {
    return limits.contains(permission)
        && duties.stream().anyMatch(each -> each.duty().holds(permission));
  }

  /** To which things of a kind they may do something. */
  public Reach reach(Permission permission, Scope.Kind kind) {
    return may(permission)
        ? Reach.EVERYTHING
        : new Reach(
            duties.stream()
                .filter(each -> limits.contains(permission) && each.duty().holds(permission))
                .map(Assignment::scope)
                .filter(scope -> scope.kind() == kind)
                .map(Scope::key)
                .distinct()
                .sorted()
                .toList());
  }
}
