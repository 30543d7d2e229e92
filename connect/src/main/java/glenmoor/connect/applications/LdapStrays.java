package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.DeleteRequest;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.SearchResultEntry;
import glenmoor.core.provisioning.Outcome;

/** Entries that are nobody's: given to somebody, or deleted. */
final class LdapStrays {
  private final LdapDirectory directory;
  private final LdapGroups groups;

  LdapStrays(LdapDirectory directory, LdapGroups groups) {
    this.directory = directory;
    this.groups = groups;
  }

  Outcome claim(String nativeId, String worker) {
    return on(
        nativeId,
        entry -> {
          var carried = entry.getAttributeValue(directory.keyAttribute());
          if (carried == null) {
            directory
                .pool()
                .modify(
                    entry.getDN(),
                    new Modification(ModificationType.ADD, directory.keyAttribute(), worker));
          } else if (!carried.equals(worker)) {
            return carriesAnother(entry);
          }
          var after = directory.byNativeId(nativeId);
          return after != null && worker.equals(after.getAttributeValue(directory.keyAttribute()))
              ? new Outcome.Confirmed(nativeId, "")
              : new Outcome.Unproven("The worker number was written, but does not read back");
        });
  }

  Outcome delete(String nativeId) {
    return on(
        nativeId,
        entry -> {
          if (entry.hasAttribute(directory.keyAttribute())) {
            return carriesAnother(entry);
          }
          groups.forget(entry.getDN());
          directory.pool().delete(new DeleteRequest(entry.getDN()));
          return directory.byNativeId(nativeId) == null
              ? new Outcome.Confirmed("", "")
              : new Outcome.Unproven("The entry was deleted, but is still there");
        });
  }

  private static Outcome carriesAnother(SearchResultEntry entry) {
    return new Outcome.Refused(
        "The entry %s carries another worker number, so nothing was done with it."
            .formatted(entry.getDN()));
  }

  private interface Work {
    Outcome apply(SearchResultEntry entry) throws LDAPException;
  }

  private Outcome on(String nativeId, Work work) {
    try {
      var entry = directory.byNativeId(nativeId);
      if (entry == null) {
        return directory.showsItsBase()
            ? new Outcome.Gone("no entry has that identity any more")
            : directory.baseIsMissing();
      }
      return work.apply(entry);
    } catch (LDAPException failed) {
      return LdapConnector.outcome(failed);
    }
  }
}
