package glenmoor.core.conditions;

/**
 * Something about one person that could not be computed. They keep what they had under it, and
 * stand on the work list until it is mended.
 *
 * @param where what could not be computed, such as {@code birthright: crew}
 * @param sentence what was wrong and what to do
 */
public record Trouble(String where, String sentence) {}
