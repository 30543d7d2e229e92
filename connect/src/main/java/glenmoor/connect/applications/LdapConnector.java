package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.DeleteRequest;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.ModifyDNRequest;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.extensions.PasswordModifyExtendedRequest;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Order;
import glenmoor.core.provisioning.Outcome;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Accounts as entries in an LDAP directory (RFC 4511), groups as entries that list their members.
 *
 * <p>An entry is always found by the attribute that carries the worker number, never by its name,
 * so a rename or a move that was done but not recorded does no harm.
 */
final class LdapConnector implements Connector {
  private final Application application;
  private final LdapDirectory directory;
  private final List<String> objectClasses;
  private final String groupBase;
  private final String memberAttribute;
  private final String lockValue;

  LdapConnector(Application application, Settings settings) {
    this.application = application;
    directory = new LdapDirectory(application, settings);
    objectClasses = settings.texts("object-classes", List.of("inetOrgPerson"));
    groupBase = settings.text("group-base", settings.needed("people-base"));
    memberAttribute = settings.text("member-attribute", "member");
    lockValue = settings.text("lock-value", "000001010000Z");
  }

  @Override
  public Outcome carryOut(Order order, Target target, UnaryOperator<String> open) {
    try {
      return switch (order) {
        case Order.Create create -> create(create, target);
        case Order.Update update -> update(update, target);
        case Order.Enable e -> lock(target, AccountState.ENABLED);
        case Order.Disable d -> lock(target, AccountState.DISABLED);
        case Order.Add add -> member(add.technicalName(), target, ModificationType.ADD);
        case Order.Remove remove -> member(remove.technicalName(), target, ModificationType.DELETE);
        case Order.SetPassword set -> setPassword(open.apply(set.sealed()), target);
        case Order.Delete d -> delete(target);
      };
    } catch (LDAPException failed) {
      return outcome(failed);
    }
  }

  private Outcome create(Order.Create create, Target target) throws LDAPException {
    var there = directory.find(target.worker());
    if (there != null) {
      shape(there, create.name(), create.container(), create.attributes());
      lockTo(target.worker(), create.state());
      return seen(target, "adopted the entry that was there: " + there.getDN());
    }
    var dn = directory.dn(create.name(), create.container());
    var entry = new Entry(dn);
    entry.addAttribute("objectClass", objectClasses);
    entry.addAttribute(directory.nameAttribute(), create.name());
    entry.addAttribute(directory.keyAttribute(), target.worker());
    create.attributes().forEach(entry::addAttribute);
    try {
      directory.pool().add(entry);
    } catch (LDAPException failed) {
      if (failed.getResultCode().equals(ResultCode.ENTRY_ALREADY_EXISTS)) {
        return new Outcome.Refused(
            "The name %s is taken by an entry that carries no worker number %s: %s. Give that entry the worker number to have it adopted, or rename it, then try again."
                .formatted(create.name(), target.worker(), dn));
      }
      if (failed.getResultCode().equals(ResultCode.NO_SUCH_OBJECT)) {
        return new Outcome.Refused(
            "There is no container %s to put the entry in. Make it in the directory, then try again."
                .formatted(new DN(dn).getParentString()));
      }
      throw failed;
    }
    if (create.state() == AccountState.DISABLED) {
      lockTo(target.worker(), AccountState.DISABLED);
    }
    return seen(target, "");
  }

  private Outcome update(Order.Update update, Target target) throws LDAPException {
    var there = directory.find(target.worker());
    if (there == null) {
      return gone(target);
    }
    shape(there, update.name(), update.container(), update.attributes());
    return seen(target, "");
  }

  /** Gives an entry its name, place and content, sending only what differs. */
  private void shape(
      SearchResultEntry entry, String name, String container, Map<String, String> attributes)
      throws LDAPException {
    var wanted = new DN(directory.dn(name, container));
    if (!wanted.equals(entry.getParsedDN())) {
      move(entry.getDN(), name, wanted);
    }
    var changes = new ArrayList<Modification>();
    for (var attribute : application.attributes().keySet()) {
      var value = attributes.get(attribute);
      var has = entry.getAttributeValue(attribute);
      if (value != null && !value.equals(has)) {
        changes.add(new Modification(ModificationType.REPLACE, attribute, value));
      } else if (value == null && has != null) {
        changes.add(new Modification(ModificationType.REPLACE, attribute));
      }
    }
    if (!changes.isEmpty()) {
      directory.pool().modify(wanted.toString(), changes);
    }
  }

  /**
   * Renames or moves an entry and takes its memberships along. Not every directory does that by
   * itself, and one that does may do it a moment later: a group must not be changed in between
   * under the old name.
   */
  private void move(String before, String name, DN wanted) throws LDAPException {
    directory
        .pool()
        .modifyDN(
            new ModifyDNRequest(
                before,
                new RDN(directory.nameAttribute(), name).toString(),
                true,
                wanted.getParentString()));
    var groups =
        directory
            .pool()
            .search(
                groupBase,
                SearchScope.SUB,
                Filter.createEqualityFilter(memberAttribute, before),
                "1.1");
    for (var group : groups.getSearchEntries()) {
      memberIs(group.getDN(), wanted.toString(), ModificationType.ADD);
      memberIs(group.getDN(), before, ModificationType.DELETE);
    }
  }

  /** Adds or takes a member; one that is there, or is not, already is as good. */
  private void memberIs(String group, String dn, ModificationType type) throws LDAPException {
    try {
      directory.pool().modify(group, new Modification(type, memberAttribute, dn));
    } catch (LDAPException failed) {
      var already =
          failed.getResultCode().equals(ResultCode.ATTRIBUTE_OR_VALUE_EXISTS)
              || failed.getResultCode().equals(ResultCode.NO_SUCH_ATTRIBUTE);
      if (!already) {
        throw failed;
      }
    }
  }

  private Outcome lock(Target target, AccountState state) throws LDAPException {
    if (directory.find(target.worker()) == null) {
      return state == AccountState.DISABLED
          ? new Outcome.Confirmed("", "the entry was gone already")
          : gone(target);
    }
    lockTo(target.worker(), state);
    var after = directory.find(target.worker());
    var locked = after != null && after.hasAttribute(directory.lockAttribute());
    return locked == (state == AccountState.DISABLED)
        ? confirmed(after, "")
        : new Outcome.NotNow("The entry was changed, but read back unchanged", Optional.empty());
  }

  private void lockTo(String worker, AccountState state) throws LDAPException {
    var entry = directory.find(worker);
    if (entry == null
        || entry.hasAttribute(directory.lockAttribute()) == (state == AccountState.DISABLED)) {
      return;
    }
    directory
        .pool()
        .modify(
            entry.getDN(),
            state == AccountState.DISABLED
                ? new Modification(ModificationType.REPLACE, directory.lockAttribute(), lockValue)
                : new Modification(ModificationType.REPLACE, directory.lockAttribute()));
  }

  private Outcome member(String group, Target target, ModificationType type) throws LDAPException {
    var entry = directory.find(target.worker());
    var adding = type.equals(ModificationType.ADD);
    if (entry == null) {
      return adding ? gone(target) : new Outcome.Confirmed("", "the entry was gone already");
    }
    var groupDn = new RDN("cn", group) + "," + groupBase;
    try {
      memberIs(groupDn, entry.getDN(), type);
    } catch (LDAPException failed) {
      if (failed.getResultCode().equals(ResultCode.NO_SUCH_OBJECT)) {
        return new Outcome.Refused(
            "There is no group %s. Make it in the directory, or correct the entitlement's technical name, then try again."
                .formatted(groupDn));
      }
      throw failed;
    }
    var holds = directory.pool().compare(groupDn, memberAttribute, entry.getDN()).compareMatched();
    return holds == adding
        ? confirmed(entry, "")
        : new Outcome.NotNow("The group was changed, but read back unchanged", Optional.empty());
  }

  private Outcome setPassword(String secret, Target target) throws LDAPException {
    var entry = directory.find(target.worker());
    if (entry == null) {
      return gone(target);
    }
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
      lockTo(target.worker(), AccountState.DISABLED);
      var after = directory.find(target.worker());
      return after != null && after.hasAttribute(directory.lockAttribute())
          ? confirmed(after, "set; the account stays disabled")
          : new Outcome.NotNow("The password was set, but the account is open", Optional.empty());
    }
    try (var own = directory.connect()) {
      own.bind(entry.getDN(), secret);
    }
    return confirmed(entry, "");
  }

  private Outcome delete(Target target) throws LDAPException {
    var entry = directory.find(target.worker());
    if (entry == null) {
      return new Outcome.Confirmed("", "the entry was gone already");
    }
    directory.pool().delete(new DeleteRequest(entry.getDN()));
    return directory.find(target.worker()) == null
        ? new Outcome.Confirmed("", "")
        : new Outcome.NotNow("The entry was deleted, but is still there", Optional.empty());
  }

  private Outcome seen(Target target, String note) throws LDAPException {
    var entry = directory.find(target.worker());
    return entry == null
        ? new Outcome.NotNow("The entry was written, but cannot be read", Optional.empty())
        : confirmed(entry, note);
  }

  private static Outcome confirmed(@Nullable SearchResultEntry entry, String note) {
    var uuid = entry == null ? null : entry.getAttributeValue("entryUUID");
    return new Outcome.Confirmed(uuid == null ? "" : uuid, note);
  }

  private static Outcome gone(Target target) {
    return new Outcome.Refused(
        "No entry carries the worker number %s. Restore it in the directory, then try again."
            .formatted(target.worker()));
  }

  @Override
  public Health test() {
    return directory.test();
  }

  @Override
  public void list(Consumer<Seen> each) {
    directory.list(each);
  }

  private static Outcome outcome(LDAPException failed) {
    var code = failed.getResultCode();
    if (!failed.getResultCode().isConnectionUsable() || code.equals(ResultCode.CONNECT_ERROR)) {
      return new Outcome.Unreachable(LdapDirectory.sentence(failed));
    }
    if (code.equals(ResultCode.BUSY) || code.equals(ResultCode.UNAVAILABLE)) {
      return new Outcome.NotNow(LdapDirectory.sentence(failed), Optional.empty());
    }
    return new Outcome.Refused(LdapDirectory.sentence(failed));
  }

  @Override
  public void close() {
    directory.close();
  }
}
