/** The one expression language: conditions over facts, and mappings from facts to values. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.conditions;
