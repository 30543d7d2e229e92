/**
 * Definitions as files: reading trees of values into the catalogue, with every problem and its
 * place.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.core.definitions;
