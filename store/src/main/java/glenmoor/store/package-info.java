/**
 * MyBatis mappers and Flyway migrations: rows to and from core's types.
 *
 * <p>Many rows are changed in one statement that reads them from JSON. Text that comes from outside
 * is read there as {@code longtext}, never as a shorter type: MariaDB cuts what is too long for a
 * column of {@code json_table} with a warning only, whereas the table's own column refuses it.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.store;
