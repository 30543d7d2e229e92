package glenmoor.core.definitions;

import java.util.Collection;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * One kind of definition, such as {@code package: …}: how a document of it is read and checked. The
 * room it belongs to brings it, marked {@code @AutoService(DefinitionKind.class)}; no list names
 * it.
 *
 * @param <T> what a document of it comes to
 */
public interface DefinitionKind<T> {
  /** A key of small letters, digits and hyphens, with at most one slash. */
  KeyRule USUAL_KEY =
      new KeyRule(
          Pattern.compile("[a-z0-9][a-z0-9-]*(/[a-z0-9][a-z0-9-]*)?"),
          "A key is made of small letters, digits and hyphens, such as bridge-officer");

  /** The same without a slash, for what has a page of its own. */
  KeyRule PLAIN_KEY =
      new KeyRule(
          Pattern.compile("[a-z0-9][a-z0-9-]*"),
          "A key is made of small letters, digits and hyphens, such as first-day");

  /**
   * What keys look like.
   *
   * @param sentence says it, without a full stop
   */
  record KeyRule(Pattern pattern, String sentence) {}

  /** The word its documents begin with. */
  String word();

  /** The words of the kinds that a document of it may refer to; they are read before. */
  Set<String> refersTo();

  default KeyRule keys() {
    return USUAL_KEY;
  }

  /**
   * Reads one document.
   *
   * @param known what was read already, of the kinds it refers to and of its own
   * @return nothing where a problem that was reported leaves nothing to go on with
   */
  Optional<T> read(String key, Reading reading, Defined known);

  /** Looks at all documents of this kind together, once each was read. */
  default void check(Collection<Definition> all, Defined known, Problems problems) {}

  /**
   * Who may load this document, beside those who may load all definitions; asked before it is read,
   * of what was in force as well as of what takes its place.
   */
  default Optional<Loader> loader(String key, Tree.Fields body) {
    return Optional.empty();
  }

  /**
   * Whose plans may become others when a document of it is added, changed or dropped; it need not
   * say so of what another kind that refers to it says.
   */
  default Concern concern(String key) {
    return Concern.EVERYBODY;
  }

  /** The same, where it depends on what the document says. */
  default Concern concern(String key, Tree.Fields body) {
    return concern(key);
  }

  /**
   * Whether everybody's plans stay as they are when one document takes the place of another: it
   * changes how files are read or how an application is reached, not who has what.
   */
  default boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return before.plain().equals(after.plain());
  }
}
