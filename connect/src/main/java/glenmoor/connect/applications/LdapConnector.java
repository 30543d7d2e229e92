package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.DeleteRequest;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.ModifyDNRequest;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchResultEntry;
import glenmoor.connect.applications.LdapDirectory.NotOurs;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/**
 * Accounts as entries in an LDAP directory (RFC 4511), groups as entries that list their members.
 *
 * <p>An entry is always found by the attribute that carries the worker number, never by its name,
 * so a rename or a move that was done but not recorded does no harm. A directory that answers with
 * a failure after a broken connection is looked at before it is believed: the add or rename may
 * have been done.
 */
final class LdapConnector implements Connector {
  /** All settings there are. */
  static final Set<String> SETTINGS =
      Set.of(
          "url",
          "bind-dn",
          "password-file",
          "trust-file",
          "people-base",
          "group-base",
          "key-attribute",
          "name-attribute",
          "lock-attribute",
          "lock-value",
          "last-used",
          "member-attribute",
          "owner-attribute",
          "group-class",
          "object-classes",
          "make");

  private final Application application;
  private final LdapDirectory directory;
  private final LdapGroups groups;
  private final LdapListing listing;
  private final LdapStrays strays;
  private final List<String> objectClasses;
  private final LdapLock lock;
  private final LdapPasswords passwords;
  private final boolean makes;

  LdapConnector(Application application, Settings settings) {
    this.application = application;
    makes = settings.text("make", "no").equals("yes");
    directory = new LdapDirectory(application, settings);
    groups = new LdapGroups(directory, settings, makes);
    strays = new LdapStrays(directory, groups);
    objectClasses = settings.texts("object-classes", List.of("inetOrgPerson"));
    lock = new LdapLock(directory, settings.text("lock-value", "000001010000Z"));
    passwords = new LdapPasswords(directory, lock);
    listing =
        new LdapListing(
            directory,
            groups,
            objectClasses.getLast(),
            application.attributes().keySet(),
            settings.text("last-used", ""));
  }

  @Override
  public Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open) {
    try {
      return switch (command) {
        case ProvisioningCommand.Create create -> create(create, target);
        case ProvisioningCommand.Update update -> update(update, target);
        case ProvisioningCommand.Enable e -> lock(target, AccountState.ENABLED);
        case ProvisioningCommand.Disable d -> lock(target, AccountState.DISABLED);
        case ProvisioningCommand.Add add ->
            member(add.technicalName(), target, ModificationType.ADD);
        case ProvisioningCommand.Remove remove ->
            member(remove.technicalName(), target, ModificationType.DELETE);
        case ProvisioningCommand.SetPassword set ->
            setPassword(open.apply(set.sealed()), set.unless(), target);
        case ProvisioningCommand.HandOver over -> handOver(over.toWorker(), target);
        case ProvisioningCommand.Delete d -> delete(target);
      };
    } catch (LDAPException failed) {
      return outcome(failed);
    } catch (NotOurs other) {
      return new Outcome.Refused(String.valueOf(other.getMessage()));
    }
  }

  private Outcome create(ProvisioningCommand.Create create, Target target)
      throws LDAPException, NotOurs {
    var there = directory.find(target);
    if (there != null) {
      return adopt(there, create, target);
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
      var refused = notAdded(failed, create, target, dn);
      if (refused.isPresent()) {
        return refused.get();
      }
    }
    if (create.state() == AccountState.DISABLED) {
      lock.to(target, AccountState.DISABLED);
    }
    return seen(target, "");
  }

  /** Why an entry could not be added; nothing where it is there after all, or can be now. */
  private Optional<Outcome> notAdded(
      LDAPException failed, ProvisioningCommand.Create create, Target target, String dn)
      throws LDAPException, NotOurs {
    if (failed.getResultCode().equals(ResultCode.ENTRY_ALREADY_EXISTS)) {
      // A connection that broke may have carried the same request before.
      return directory.find(target) != null
          ? Optional.empty()
          : Optional.of(
              new Outcome.Refused(
                  "The name %s is taken by an entry that carries no worker number %s: %s. Give that entry the worker number to have it adopted, or rename it, then try again."
                      .formatted(create.name(), target.worker(), dn)));
    }
    if (!failed.getResultCode().equals(ResultCode.NO_SUCH_OBJECT)) {
      throw failed;
    }
    if (!directory.showsItsBase()) {
      return Optional.of(directory.baseIsMissing());
    }
    var container = new DN(dn).getParentString();
    if (!makes) {
      return Optional.of(
          new Outcome.Refused(
              "There is no container %s to put the entry in. Make it in the directory, then try again."
                  .formatted(container)));
    }
    var made = new Entry(container);
    made.addAttribute("objectClass", "organizationalUnit");
    try {
      directory.pool().add(made);
    } catch (LDAPException beaten) {
      if (!beaten.getResultCode().equals(ResultCode.ENTRY_ALREADY_EXISTS)) {
        throw beaten;
      }
    }
    return Optional.of(create(create, target));
  }

  private Outcome adopt(SearchResultEntry there, ProvisioningCommand.Create create, Target target)
      throws LDAPException, NotOurs {
    shape(there, create.name(), create.container(), create.attributes(), target);
    lock.to(target, create.state());
    return seen(target, "adopted the entry that was there: " + there.getDN());
  }

  private Outcome update(ProvisioningCommand.Update update, Target target)
      throws LDAPException, NotOurs {
    var there = directory.find(target);
    if (there == null) {
      return gone(target);
    }
    shape(there, update.name(), update.container(), update.attributes(), target);
    followFromWhereItWasSeen(target, new DN(directory.dn(update.name(), update.container())));
    return seen(target, "");
  }

  /** Gives an entry its name, place and content, sending only what differs. */
  private void shape(
      SearchResultEntry entry,
      String name,
      String container,
      Map<String, String> attributes,
      Target target)
      throws LDAPException, NotOurs {
    var wanted = new DN(directory.dn(name, container));
    if (!wanted.equals(entry.getParsedDN())) {
      move(entry.getDN(), name, wanted, target);
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

  private void move(String before, String name, DN wanted, Target target)
      throws LDAPException, NotOurs {
    try {
      directory
          .pool()
          .modifyDN(
              new ModifyDNRequest(
                  before,
                  new RDN(directory.nameAttribute(), name).toString(),
                  true,
                  wanted.getParentString()));
    } catch (LDAPException failed) {
      var now = directory.find(target);
      if (now == null || !wanted.equals(now.getParsedDN())) {
        throw failed;
      }
    }
    groups.follow(before, wanted.toString());
  }

  /**
   * An earlier try may have moved the entry and died before its groups followed: they still list
   * the name under which it was last seen. Where another entry has that name by now, they mean it.
   */
  private void followFromWhereItWasSeen(Target target, DN now) throws LDAPException {
    var before = whereItWasSeen(target);
    if (before.isPresent()) {
      groups.follow(before.get().toString(), now.toString());
    }
  }

  /** The name under which it was last seen, where no entry has that name now. */
  private Optional<DN> whereItWasSeen(Target target) throws LDAPException {
    if (target.seenName().isEmpty()) {
      return Optional.empty();
    }
    var before = new DN(directory.dn(target.seenName(), target.seenContainer()));
    return directory.pool().getEntry(before.toString(), "1.1") == null
        ? Optional.of(before)
        : Optional.empty();
  }

  private Outcome lock(Target target, AccountState state) throws LDAPException, NotOurs {
    if (directory.find(target) == null) {
      return gone(target);
    }
    lock.to(target, state);
    var after = directory.find(target);
    var locked = after != null && after.hasAttribute(directory.lockAttribute());
    return after != null && locked == (state == AccountState.DISABLED)
        ? LdapDirectory.confirmed(after, "")
        : new Outcome.Unproven("The entry was changed, but read back unchanged");
  }

  private Outcome member(String group, Target target, ModificationType type)
      throws LDAPException, NotOurs {
    var entry = directory.find(target);
    return entry == null
        ? gone(target)
        : groups.set(group, entry.getDN(), LdapDirectory.nativeId(entry), type);
  }

  private Outcome setPassword(String secret, String unless, Target target)
      throws LDAPException, NotOurs {
    var entry = directory.find(target);
    return entry == null ? gone(target) : passwords.set(secret, unless, entry, target);
  }

  private Outcome handOver(String toWorker, Target target) throws LDAPException, NotOurs {
    var entry = directory.find(target);
    if (entry == null) {
      return gone(target);
    }
    var owned = groups.owned(entry.getDN());
    if (owned.isEmpty()) {
      return LdapDirectory.confirmed(entry, "they look after no group");
    }
    var to =
        directory.find(
            new Target(toWorker, "", "", "", "", false, false, null, Connector.Owners.NOBODY));
    if (to == null) {
      return new Outcome.Refused(
          "%s has no entry there who could look after %s. Give them to somebody by hand."
              .formatted(toWorker, String.join(", ", owned)));
    }
    groups.handOver(owned, entry.getDN(), to.getDN());
    var left = groups.owned(entry.getDN());
    return left.isEmpty()
        ? LdapDirectory.confirmed(
            entry, "%s: now with %s".formatted(String.join(", ", owned), to.getDN()))
        : new Outcome.Unproven(
            "Groups were handed over, but these read back unchanged: " + String.join(", ", left));
  }

  private Outcome delete(Target target) throws LDAPException, NotOurs {
    var entry = directory.find(target);
    if (entry == null) {
      return gone(target);
    }
    var left = new ArrayList<>(groups.forget(entry.getDN()));
    var before = whereItWasSeen(target);
    if (before.isPresent() && !before.get().equals(entry.getParsedDN())) {
      left.addAll(groups.forget(before.get().toString()));
    }
    directory.pool().delete(new DeleteRequest(entry.getDN()));
    return directory.find(target) == null
        ? new Outcome.Confirmed(
            "", left.isEmpty() ? "" : "still listed alone in " + String.join("; ", left))
        : new Outcome.Unproven("The entry was deleted, but is still there");
  }

  private Outcome seen(Target target, String note) throws LDAPException, NotOurs {
    var entry = directory.find(target);
    return entry == null
        ? new Outcome.Unproven("The entry was written, but cannot be read")
        : LdapDirectory.confirmed(entry, note);
  }

  private Outcome gone(Target target) throws LDAPException {
    return directory.showsItsBase()
        ? new Outcome.Gone("no entry carries the worker number " + target.worker())
        : directory.baseIsMissing();
  }

  @Override
  public Health test() {
    return directory.test();
  }

  @Override
  public Findings examine(Collection<Entitlement> entitlements) {
    try {
      var missing = new ArrayList<String>();
      if (!directory.showsItsBase()) {
        missing.add(
            "people-base is %s, which is not there or cannot be read.".formatted(directory.base()));
      }
      if (directory.pool().getEntry(groups.base(), "1.1") == null) {
        missing.add(
            "group-base is %s, which is not there or cannot be read.".formatted(groups.base()));
      } else if (!makes) {
        for (var entitlement : entitlements) {
          if (!groups.isThere(entitlement.technicalName())) {
            missing.add(
                "There is no group %s for %s. Make it in the directory, or say make: yes in the settings."
                    .formatted(groups.dn(entitlement.technicalName()), entitlement.key()));
          }
        }
      }
      return new Findings(abilities(), missing);
    } catch (LDAPException failed) {
      throw new CannotRead(LdapDirectory.sentence(failed));
    }
  }

  private List<String> abilities() throws LDAPException {
    var root = directory.pool().getRootDSE();
    var vendor = root == null ? null : root.getVendorName();
    return List.of(
        "speaks LDAP 3" + (vendor == null ? "" : ", by " + vendor),
        makes
            ? "missing groups and containers are made"
            : "missing groups and containers are not made");
  }

  @Override
  public void list(Consumer<Seen> each) {
    listing.accounts(each);
  }

  @Override
  public void memberships(Consumer<Membership> each) {
    listing.memberships(each);
  }

  @Override
  public Outcome claim(String nativeId, String worker) {
    return strays.claim(nativeId, worker);
  }

  @Override
  public Outcome deleteStray(String nativeId) {
    return strays.delete(nativeId);
  }

  /** RFC 4511, appendix A: what a result code says of the entry, the server and ourselves. */
  static Outcome outcome(LDAPException failed) {
    var sentence = LdapDirectory.sentence(failed);
    return switch (failed.getResultCode().intValue()) {
      case ResultCode.SERVER_DOWN_INT_VALUE,
          ResultCode.CONNECT_ERROR_INT_VALUE,
          ResultCode.TIMEOUT_INT_VALUE ->
          new Outcome.Unreachable(sentence);
      case ResultCode.TIME_LIMIT_EXCEEDED_INT_VALUE,
          ResultCode.ADMIN_LIMIT_EXCEEDED_INT_VALUE,
          ResultCode.BUSY_INT_VALUE,
          ResultCode.UNAVAILABLE_INT_VALUE,
          ResultCode.UNWILLING_TO_PERFORM_INT_VALUE ->
          new Outcome.NotNow(sentence, Optional.empty());
      case ResultCode.INVALID_CREDENTIALS_INT_VALUE,
          ResultCode.INSUFFICIENT_ACCESS_RIGHTS_INT_VALUE,
          ResultCode.INAPPROPRIATE_AUTHENTICATION_INT_VALUE,
          ResultCode.STRONG_AUTH_REQUIRED_INT_VALUE ->
          new Outcome.WrongCredentials("the directory does not let Glenmoor do this: " + sentence);
      case ResultCode.REFERRAL_INT_VALUE ->
          new Outcome.WrongSettings("the directory refers to another one: " + sentence);
      default -> new Outcome.Refused(sentence);
    };
  }

  @Override
  public void close() {
    directory.close();
  }
}
