/** Playbooks, their runs and what they ask, over the API. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.playbooks;
