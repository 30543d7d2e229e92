package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchScope;
import glenmoor.core.provisioning.Outcome;
import java.util.ArrayList;
import java.util.List;

/** Groups in a directory: entries that list the names of their members. */
final class LdapGroups {
  private final LdapDirectory directory;
  private final String base;
  private final String memberAttribute;
  private final String objectClass;

  /** Where a group says who looks after it (RFC 4519, section 2.21); empty where none does. */
  private final String ownerAttribute;

  private final boolean makes;

  /**
   * @param makes whether a group that is missing is made
   */
  LdapGroups(LdapDirectory directory, Settings settings, boolean makes) {
    this.directory = directory;
    base = settings.text("group-base", settings.needed("people-base"));
    memberAttribute = settings.text("member-attribute", "member");
    objectClass = settings.text("group-class", "groupOfNames");
    ownerAttribute = settings.text("owner-attribute", "");
    this.makes = makes;
  }

  String dn(String group) {
    return new RDN("cn", group) + "," + base;
  }

  String base() {
    return base;
  }

  String memberAttribute() {
    return memberAttribute;
  }

  boolean makes() {
    return makes;
  }

  boolean isThere(String group) throws LDAPException {
    return directory.pool().getEntry(dn(group), "1.1") != null;
  }

  /** Makes an entry a member of a group, or makes it none, and looks whether it took. */
  Outcome set(String group, String member, String nativeId, ModificationType type)
      throws LDAPException {
    var adding = type.equals(ModificationType.ADD);
    var dn = dn(group);
    try {
      memberIs(dn, member, type);
    } catch (LDAPException failed) {
      if (!failed.getResultCode().equals(ResultCode.NO_SUCH_OBJECT)) {
        throw failed;
      }
      if (!adding) {
        return withoutGroup(dn, nativeId);
      }
      if (!makes) {
        return new Outcome.Refused(
            "There is no group %s. Make it in the directory, or correct the entitlement's technical name, then try again."
                .formatted(dn));
      }
      make(dn, group, member);
    }
    return holds(dn, member) == adding
        ? new Outcome.Confirmed(nativeId, "")
        : new Outcome.Unproven("The group was changed, but read back unchanged");
  }

  /** A group that is not there has no members, if its base is there to show that. */
  private Outcome withoutGroup(String dn, String nativeId) throws LDAPException {
    return directory.pool().getEntry(base, "1.1") == null
        ? new Outcome.WrongSettings("group-base is %s, which is not there".formatted(base))
        : new Outcome.Confirmed(nativeId, "there is no group " + dn);
  }

  private void make(String dn, String group, String member) throws LDAPException {
    var entry = new Entry(dn);
    entry.addAttribute("objectClass", objectClass);
    entry.addAttribute("cn", group);
    entry.addAttribute(memberAttribute, member);
    try {
      directory.pool().add(entry);
    } catch (LDAPException failed) {
      if (!failed.getResultCode().equals(ResultCode.ENTRY_ALREADY_EXISTS)) {
        throw failed;
      }
      memberIs(dn, member, ModificationType.ADD);
    }
  }

  private boolean holds(String dn, String member) throws LDAPException {
    try {
      return directory.pool().compare(dn, memberAttribute, member).compareMatched();
    } catch (LDAPException failed) {
      if (failed.getResultCode().equals(ResultCode.NO_SUCH_ATTRIBUTE)) {
        return false;
      }
      throw failed;
    }
  }

  /** Adds or takes a member; one that is there, or is not, already is as good. */
  private void memberIs(String group, String dn, ModificationType type) throws LDAPException {
    valueIs(group, memberAttribute, dn, type);
  }

  private void valueIs(String group, String attribute, String dn, ModificationType type)
      throws LDAPException {
    try {
      directory.pool().modify(group, new Modification(type, attribute, dn));
    } catch (LDAPException failed) {
      var already =
          failed.getResultCode().equals(ResultCode.ATTRIBUTE_OR_VALUE_EXISTS)
              || failed.getResultCode().equals(ResultCode.NO_SUCH_ATTRIBUTE);
      if (!already) {
        throw failed;
      }
    }
  }

  /**
   * Takes memberships along where an entry got another name. Not every directory does that by
   * itself, and one that does may do it a moment later: a group must not be changed in between
   * under the old name.
   */
  void follow(String before, String after) throws LDAPException {
    var groups =
        directory
            .pool()
            .search(
                base, SearchScope.SUB, Filter.createEqualityFilter(memberAttribute, before), "1.1");
    for (var group : groups.getSearchEntries()) {
      memberIs(group.getDN(), after, ModificationType.ADD);
      memberIs(group.getDN(), before, ModificationType.DELETE);
    }
    handOver(owned(before), before, after);
  }

  /** The groups that an entry looks after, by their names in the directory. */
  List<String> owned(String owner) throws LDAPException {
    return ownerAttribute.isEmpty()
        ? List.of()
        : directory
            .pool()
            .search(
                base, SearchScope.SUB, Filter.createEqualityFilter(ownerAttribute, owner), "1.1")
            .getSearchEntries()
            .stream()
            .map(Entry::getDN)
            .sorted()
            .toList();
  }

  /** Gives groups another owner in the place of one; other owners stay. */
  void handOver(List<String> owned, String from, String to) throws LDAPException {
    for (var group : owned) {
      valueIs(group, ownerAttribute, to, ModificationType.ADD);
      valueIs(group, ownerAttribute, from, ModificationType.DELETE);
    }
  }

  /**
   * Takes an entry that is going out of all groups, so that whoever is given its name one day finds
   * nothing there.
   *
   * @return the groups that cannot be without it because nobody else is in them
   */
  List<String> forget(String member) throws LDAPException {
    var left = new ArrayList<String>();
    var groups =
        directory
            .pool()
            .search(
                base, SearchScope.SUB, Filter.createEqualityFilter(memberAttribute, member), "1.1");
    for (var group : groups.getSearchEntries()) {
      try {
        memberIs(group.getDN(), member, ModificationType.DELETE);
      } catch (LDAPException failed) {
        if (!failed.getResultCode().equals(ResultCode.OBJECT_CLASS_VIOLATION)) {
          throw failed;
        }
        left.add(group.getDN());
      }
    }
    return left;
  }
}
