package glenmoor.core.partners;

import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * An outside body whose people may ask for access.
 *
 * @param mailDomains in small letters; who has no address in one of them cannot ask
 * @param until the last day on which its people may be here
 * @param sponsor the worker number of the employee who answers for them
 * @param source the key of the source that holds their records
 * @param offers keys of what can be asked for by its link
 * @param terms the key of what has to be accepted; empty for nothing
 * @param letter the key of the letter that confirms an address
 * @param facts what their records say besides, by fact
 */
public record PartnerOrganisation(
    String key,
    String name,
    Set<String> mailDomains,
    LocalDate until,
    String sponsor,
    String source,
    List<String> offers,
    String terms,
    String letter,
    Map<String, String> facts) {
  /** Whether an address is of this organisation: exactly of one of its domains. */
  public boolean has(String mail) {
    var at = mail.lastIndexOf('@');
    return at > 0 && mailDomains.contains(mail.substring(at + 1).toLowerCase(Locale.ROOT));
  }

  /** Whether its people may still be here on a day. */
  public boolean open(LocalDate day) {
    return !day.isAfter(until);
  }
}
