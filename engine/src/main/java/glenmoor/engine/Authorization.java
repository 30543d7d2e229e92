package glenmoor.engine;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Reach;
import glenmoor.core.authorization.Scope;
import java.util.Arrays;
import java.util.stream.Collectors;

/**
 * Asks, before anything is read or parsed, whether somebody may do something. Denied is what no
 * duty allows.
 */
public final class Authorization {
  private Authorization() {}

  /**
   * @throws Refused unless the actor may do this everywhere
   */
  public static void need(Actor actor, Permission permission) {
    if (!actor.may(permission)) {
      throw refused(actor, permission);
    }
  }

  /**
   * @throws Refused unless the actor may do this to this one thing
   */
  public static void need(Actor actor, Permission permission, Scope on) {
    if (!actor.may(permission, on)) {
      throw refused(actor, permission);
    }
  }

  /**
   * To which applications the actor may do this.
   *
   * @throws Refused where to none: nothing more has to be looked at
   */
  public static Reach applications(Actor actor, Permission permission) {
    var reach = actor.reach(permission, Scope.Kind.APPLICATION);
    if (reach.isNothing()) {
      throw refused(actor, permission);
    }
    return reach;
  }

  /**
   * Refuses whoever may do something to nothing at all; to what exactly they may, is asked of each
   * thing.
   */
  public static void needSomewhere(Actor actor, Permission permission) {
    if (!actor.maySomewhere(permission)) {
      throw refused(actor, permission);
    }
  }

  private static Refused refused(Actor actor, Permission permission) {
    if (!actor.limits().contains(permission)) {
      return new Refused(
          Refused.Reason.NOT_ALLOWED,
          "This token does not carry %s, so nobody may %s with it."
              .formatted(permission.word(), permission.sentence()));
    }
    return new Refused(
        Refused.Reason.NOT_ALLOWED,
        "%s may not %s: that needs the duty %s. Ask an administrator for it."
            .formatted(
                actor.displayName(),
                permission.sentence(),
                Arrays.stream(Duty.values())
                    .filter(duty -> duty.holds(permission))
                    .map(Duty::word)
                    .collect(Collectors.joining(" or "))));
  }
}
