package glenmoor.core.requests;

/**
 * How common something is among those who report to the same manager.
 *
 * @param people how many there are besides whom it is about
 * @param holding how many of them hold it
 */
public record TeamShare(Integer people, Integer holding) {}
