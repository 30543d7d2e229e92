/** The row that says which installation a database is. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.installation;
