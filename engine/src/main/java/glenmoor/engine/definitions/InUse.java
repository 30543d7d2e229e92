package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition.Name;
import java.util.List;

/**
 * Keeps definitions of what somebody has: without its definition, nobody could take a right away
 * any more, and under another technical name another right would be taken. Each room says it of its
 * own kinds.
 */
public interface InUse {
  /**
   * A definition that must stay.
   *
   * @param sentence says why, and what to do first
   */
  record Use(Name name, String sentence) {}

  /** What must not be dropped, or said otherwise, as long as it is in use. */
  List<Use> uses(Catalogue before, Catalogue after);
}
