package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;

/**
 * Keeps what definitions say in tables, where it is joined with what people have. Each room says it
 * of its own kinds.
 */
public interface Tables {
  /**
   * Writes what is different from what stands there, inside the caller's transaction.
   *
   * @param before what was in force, and
   * @param after what is from now on
   */
  void follow(Catalogue before, Catalogue after);
}
