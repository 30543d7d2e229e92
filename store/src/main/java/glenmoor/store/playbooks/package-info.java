/** Rows of runs of playbooks, of their steps, of what they ask and what they order. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.playbooks;
