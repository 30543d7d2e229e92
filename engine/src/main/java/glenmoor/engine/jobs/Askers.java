package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import java.util.Optional;

/** Who somebody is by now, and what they may do: work may wait longer than its asker stays. */
public interface Askers {
  /** Empty for somebody who may not sign in any more. */
  Optional<Actor> named(String login);
}
