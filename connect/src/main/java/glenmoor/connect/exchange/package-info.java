/** Files exchanged with applications that take their changes as files. */
@org.jspecify.annotations.NullMarked
package glenmoor.connect.exchange;
