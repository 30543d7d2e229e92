/** Whether work for people is done in time, and who is told when it is not. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.tasks;
