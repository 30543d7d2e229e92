package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.connect.applications.LdapDirectory.NotOurs;
import glenmoor.core.applications.AccountState;

/**
 * Shuts and opens an entry by one attribute of it.
 *
 * @param value what the attribute has while the entry is shut
 */
record LdapLock(LdapDirectory directory, String value) {

  /** Shuts or opens an entry that is there, and is not so yet. */
  void to(Target target, AccountState state) throws LDAPException, NotOurs {
    var entry = directory.find(target);
    if (entry == null
        || entry.hasAttribute(directory.lockAttribute()) == (state == AccountState.DISABLED)) {
      return;
    }
    directory
        .pool()
        .modify(
            entry.getDN(),
            state == AccountState.DISABLED
                ? new Modification(ModificationType.REPLACE, directory.lockAttribute(), value)
                : new Modification(ModificationType.REPLACE, directory.lockAttribute()));
  }
}
