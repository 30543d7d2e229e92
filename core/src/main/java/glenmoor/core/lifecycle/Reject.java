package glenmoor.core.lifecycle;

/**
 * Why one row of a feed was rejected.
 *
 * @param line the line of the file on which the row begins, from 1
 * @param column the column at fault, or empty when the row as a whole is
 */
public record Reject(long line, String worker, String column, String found, String expected) {}
