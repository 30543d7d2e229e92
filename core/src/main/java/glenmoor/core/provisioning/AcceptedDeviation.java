package glenmoor.core.provisioning;

import java.time.Instant;

/**
 * A difference between what should be and what was seen that somebody answers for, until a date:
 * what becomes of an operation that was given up.
 *
 * @param aspect the side of the account that differs, as {@link ProvisioningCommand#aspect} names
 *     it
 */
public record AcceptedDeviation(long id, long account, String aspect, Instant until) {
  public boolean over(Instant at) {
    return !at.isBefore(until);
  }
}
