package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.LDAPException;
import glenmoor.connect.applications.Connector.CannotRead;

/**
 * Names of entries below a base. Most are in their normal form as they come, which is seen at a
 * glance; only the others are taken apart, which takes longer than reading them.
 */
final class LdapNames {
  /**
   * An entry's name.
   *
   * @param normal its normal form (RFC 4514; RFC 4517, section 4.2.15), by which names are compared
   * @param container what stands between the entry's own name and the base
   */
  record Name(String normal, String container) {}

  /** What has no other form; a table, because each letter of each name is looked at. */
  private static final boolean[] PLAIN = plain();

  private final String ending;
  private final int depth;

  private LdapNames(DN base) {
    ending = "," + base.toNormalizedString();
    depth = base.getRDNs().length;
  }

  private static boolean[] plain() {
    var plain = new boolean[128];
    "abcdefghijklmnopqrstuvwxyz0123456789-.".chars().forEach(each -> plain[each] = true);
    return plain;
  }

  /**
   * @throws CannotRead if the base is no name
   */
  static LdapNames of(String base) {
    return new LdapNames(parsed(base));
  }

  /**
   * @throws CannotRead if it is no name
   */
  static String normal(String dn) {
    return isPlain(dn) ? dn : parsed(dn).toNormalizedString();
  }

  /**
   * @throws CannotRead if it is no name
   */
  Name below(String dn) {
    if (isPlain(dn) && dn.endsWith(ending)) {
      var own = dn.indexOf(',');
      var end = dn.length() - ending.length();
      return new Name(dn, own < end ? dn.substring(own + 1, end) : "");
    }
    var parsed = parsed(dn);
    return new Name(parsed.toNormalizedString(), container(parsed));
  }

  private String container(DN dn) {
    var rdns = dn.getRDNs();
    var container = new StringBuilder();
    for (var i = 1; i < rdns.length - depth; i++) {
      container.append(i == 1 ? "" : ",").append(rdns[i]);
    }
    return container.toString();
  }

  /**
   * Parts like {@code ou=deck} of small letters, digits and what may stand between them: nothing of
   * it has another form.
   */
  private static boolean isPlain(String dn) {
    var start = 0;
    var named = false;
    for (var i = 0; i < dn.length(); i++) {
      var each = dn.charAt(i);
      if (each < PLAIN.length && PLAIN[each]) {
        continue;
      }
      if (each == ',' && named) {
        start = i + 1;
        named = false;
      } else if (each == '=' && !named && i > start) {
        named = true;
      } else {
        return false;
      }
    }
    return named;
  }

  private static DN parsed(String dn) {
    try {
      return new DN(dn);
    } catch (LDAPException unreadable) {
      throw new CannotRead("It gave a name that is none: " + LdapDirectory.sentence(unreadable));
    }
  }
}
