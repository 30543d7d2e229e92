/** Files for applications that take their changes as files, and what their answers wake. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.exchange;
