package glenmoor.core.campaigns;

/**
 * Two rounds of a campaign side by side.
 *
 * @param added items that were not in the round before
 * @param gone items of the round before that are not in this one
 * @param stayed items that are in both
 * @param revokedThen how many of the round before were revoked
 * @param back how many of those are there again
 */
public record RoundsCompared(
    Integer added, Integer gone, Integer stayed, Integer revokedThen, Integer back) {}
