package glenmoor.engine.definitions;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Who may see or load which definitions: all of them with the permission for that, else those whose
 * kind says so, as they were and as they are to be.
 */
final class WhoLoads {
  /** What kinds of definition may ask for beside the permission for all. */
  private static final List<Permission> OF_SOME =
      List.of(Permission.BUNDLE, Permission.TEND_PORTFOLIOS);

  private WhoLoads() {}

  /**
   * Before anything is read.
   *
   * @param all the permission for all definitions
   * @throws Refused where the actor may load none
   */
  static void any(Actor actor, Permission all) {
    if (OF_SOME.stream().noneMatch(actor::maySomewhere)) {
      Authorization.need(actor, all);
    }
  }

  /**
   * Once it is known what the documents are, and before anything else is told of them.
   *
   * @throws Refused where the actor may not load one of them
   */
  static void each(
      Actor actor,
      Permission all,
      Collection<Definition> read,
      Map<Name, Definition> before,
      boolean replace) {
    if (actor.may(all)) {
      return;
    }
    if (replace) {
      Authorization.need(actor, all);
    }
    for (var definition : read) {
      var both =
          Stream.concat(Stream.of(definition), Stream.ofNullable(before.get(definition.name())));
      if (!both.allMatch(each -> may(each, actor))) {
        throw new Refused(
            Refused.Reason.NOT_ALLOWED,
            "%s may not load %s: that is for whoever looks after it."
                .formatted(actor.displayName(), definition.name()));
      }
    }
  }

  /** Whether the actor may load a definition as it stands. */
  static boolean may(Definition definition, Actor actor) {
    return definition
        .kind()
        .loader(definition.key(), definition.body())
        .filter(loader -> actor.may(loader.permission(), loader.scope()))
        .isPresent();
  }
}
