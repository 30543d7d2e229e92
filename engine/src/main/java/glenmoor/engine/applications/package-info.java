/** Applications: their connectors, their health, their breakers. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.applications;
