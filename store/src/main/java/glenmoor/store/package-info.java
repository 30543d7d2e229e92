/** MyBatis mappers and Flyway migrations: rows to and from core's types. */
@org.jspecify.annotations.NullMarked
package glenmoor.store;
