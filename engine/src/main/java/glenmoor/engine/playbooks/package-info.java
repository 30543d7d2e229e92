/** Begins runs of playbooks, and carries out their steps. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.playbooks;
