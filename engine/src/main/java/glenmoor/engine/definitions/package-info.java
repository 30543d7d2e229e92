/** Loading definitions, and the catalogue in force. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.definitions;
