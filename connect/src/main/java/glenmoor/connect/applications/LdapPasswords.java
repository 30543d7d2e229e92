package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.extensions.PasswordModifyExtendedRequest;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.connect.applications.LdapDirectory.NotOurs;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import java.util.List;
import java.util.TreeSet;
import org.apache.commons.codec.digest.DigestUtils;

/** Sets passwords by the operation that directories have for it (RFC 3062), and proves it. */
record LdapPasswords(LdapDirectory directory, LdapLock lock) {
  /** RFC 4519, section 2.41: shown to whoever may read it, as the directory keeps it. */
  private static final String PASSWORD = "userPassword";

  /**
   * Sets the password of an entry.
   *
   * @param unless the mark of the password that may be replaced; empty for any
   */
  Outcome set(String secret, String unless, SearchResultEntry entry, Target target)
      throws LDAPException, NotOurs {
    if (!unless.isEmpty()) {
      var mark = mark(entry);
      if (mark.isEmpty()) {
        return new Outcome.Refused(
            "The directory does not show the password to whom Glenmoor signs in as, so that nobody can tell whether it was changed");
      }
      if (!mark.equals(unless)) {
        return LdapDirectory.confirmed(entry, "left as it is: it was changed since");
      }
    }
    var set = passwordSet(secret, entry, target);
    return set instanceof Outcome.Confirmed done
        ? new Outcome.Confirmed(done.nativeId(), done.note(), mark(entry))
        : set;
  }

  /** A digest of what the directory keeps of the password, which is salted; empty if hidden. */
  private String mark(Entry entry) throws LDAPException {
    var kept = directory.pool().getEntry(entry.getDN(), PASSWORD);
    return kept == null || !kept.hasAttribute(PASSWORD)
        ? ""
        : DigestUtils.sha256Hex(
            new TreeSet<>(List.of(kept.getAttributeValues(PASSWORD))).toString());
  }

  private Outcome passwordSet(String secret, SearchResultEntry entry, Target target)
      throws LDAPException, NotOurs {
    var result =
        directory
            .pool()
            .processExtendedOperation(
                new PasswordModifyExtendedRequest(entry.getDN(), null, secret));
    if (!result.getResultCode().equals(ResultCode.SUCCESS)) {
      throw new LDAPException(result);
    }
    if (entry.hasAttribute(directory.lockAttribute())) {
      // Some directories open an account when its password is set; one that is to stay shut is shut
      // again before this counts as done.
      lock.to(target, AccountState.DISABLED);
      var after = directory.find(target);
      return after != null && after.hasAttribute(directory.lockAttribute())
          ? LdapDirectory.confirmed(after, "set; the account stays disabled")
          : new Outcome.Unproven("The password was set, but the account is open");
    }
    try (var own = directory.connect()) {
      own.bind(entry.getDN(), secret);
    } catch (LDAPException refused) {
      if (refused.getResultCode().equals(ResultCode.INVALID_CREDENTIALS)) {
        return new Outcome.Unproven("The password was set, but does not open the account");
      }
      throw refused;
    }
    return LdapDirectory.confirmed(entry, "");
  }
}
