package glenmoor.connect.applications;

import com.unboundid.asn1.ASN1OctetString;
import com.unboundid.ldap.sdk.DN;
import com.unboundid.ldap.sdk.DeleteRequest;
import com.unboundid.ldap.sdk.Entry;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPConnectionPool;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.LDAPSearchException;
import com.unboundid.ldap.sdk.LDAPURL;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.ModifyDNRequest;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.controls.SimplePagedResultsControl;
import com.unboundid.ldap.sdk.extensions.PasswordModifyExtendedRequest;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Order;
import glenmoor.core.provisioning.Outcome;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
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
  private static final int PAGE = 500;
  private static final int CONNECT_MILLIS = 4_000;
  private static final long ANSWER_MILLIS = 10_000;

  private final LDAPURL url;
  private final String bindDn;
  private final String password;
  private final String base;
  private final String keyAttribute;
  private final String nameAttribute;
  private final List<String> objectClasses;
  private final String groupBase;
  private final String memberAttribute;
  private final String lockAttribute;
  private final String lockValue;
  private final Application application;
  private volatile @Nullable LDAPConnectionPool pool;

  LdapConnector(Application application, Settings settings) {
    this.application = application;
    try {
      url = new LDAPURL(settings.needed("url"));
    } catch (LDAPException bad) {
      throw new Settings.BadSetting(
          "The setting url of %s is no LDAP address such as ldap://127.0.0.1:389: %s"
              .formatted(application.key(), bad.getMessage()));
    }
    bindDn = settings.needed("bind-dn");
    password = settings.secretFrom("password-file");
    base = settings.needed("people-base");
    keyAttribute = settings.text("key-attribute", "employeeNumber");
    nameAttribute = settings.text("name-attribute", "uid");
    objectClasses = settings.texts("object-classes", List.of("inetOrgPerson"));
    groupBase = settings.text("group-base", base);
    memberAttribute = settings.text("member-attribute", "member");
    lockAttribute = settings.text("lock-attribute", "pwdAccountLockedTime");
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
    var there = find(target.worker());
    if (there != null) {
      shape(there, create.name(), create.container(), create.attributes());
      lockTo(target.worker(), create.state());
      return seen(target, "adopted the entry that was there: " + there.getDN());
    }
    var dn = dn(create.name(), create.container());
    var entry = new Entry(dn);
    entry.addAttribute("objectClass", objectClasses);
    entry.addAttribute(nameAttribute, create.name());
    entry.addAttribute(keyAttribute, target.worker());
    create.attributes().forEach(entry::addAttribute);
    try {
      pool().add(entry);
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
    var there = find(target.worker());
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
    var wanted = new DN(dn(name, container));
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
      pool().modify(wanted.toString(), changes);
    }
  }

  /**
   * Renames or moves an entry and takes its memberships along. Not every directory does that by
   * itself, and one that does may do it a moment later: a group must not be changed in between
   * under the old name.
   */
  private void move(String before, String name, DN wanted) throws LDAPException {
    pool()
        .modifyDN(
            new ModifyDNRequest(
                before, new RDN(nameAttribute, name).toString(), true, wanted.getParentString()));
    var groups =
        pool()
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
      pool().modify(group, new Modification(type, memberAttribute, dn));
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
    if (find(target.worker()) == null) {
      return state == AccountState.DISABLED
          ? new Outcome.Confirmed("", "the entry was gone already")
          : gone(target);
    }
    lockTo(target.worker(), state);
    var after = find(target.worker());
    var locked = after != null && after.hasAttribute(lockAttribute);
    return locked == (state == AccountState.DISABLED)
        ? confirmed(after, "")
        : new Outcome.NotNow("The entry was changed, but read back unchanged", Optional.empty());
  }

  private void lockTo(String worker, AccountState state) throws LDAPException {
    var entry = find(worker);
    if (entry == null || entry.hasAttribute(lockAttribute) == (state == AccountState.DISABLED)) {
      return;
    }
    pool()
        .modify(
            entry.getDN(),
            state == AccountState.DISABLED
                ? new Modification(ModificationType.REPLACE, lockAttribute, lockValue)
                : new Modification(ModificationType.REPLACE, lockAttribute));
  }

  private Outcome member(String group, Target target, ModificationType type) throws LDAPException {
    var entry = find(target.worker());
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
    var holds = pool().compare(groupDn, memberAttribute, entry.getDN()).compareMatched();
    return holds == adding
        ? confirmed(entry, "")
        : new Outcome.NotNow("The group was changed, but read back unchanged", Optional.empty());
  }

  private Outcome setPassword(String secret, Target target) throws LDAPException {
    var entry = find(target.worker());
    if (entry == null) {
      return gone(target);
    }
    var result =
        pool()
            .processExtendedOperation(
                new PasswordModifyExtendedRequest(entry.getDN(), null, secret));
    if (!result.getResultCode().equals(ResultCode.SUCCESS)) {
      throw new LDAPException(result);
    }
    if (entry.hasAttribute(lockAttribute)) {
      // Some directories open an account when its password is set; one that is to stay shut is shut
      // again before this counts as done.
      lockTo(target.worker(), AccountState.DISABLED);
      var after = find(target.worker());
      return after != null && after.hasAttribute(lockAttribute)
          ? confirmed(after, "set; the account stays disabled")
          : new Outcome.NotNow("The password was set, but the account is open", Optional.empty());
    }
    try (var own = connect()) {
      own.bind(entry.getDN(), secret);
    }
    return confirmed(entry, "");
  }

  private Outcome delete(Target target) throws LDAPException {
    var entry = find(target.worker());
    if (entry == null) {
      return new Outcome.Confirmed("", "the entry was gone already");
    }
    pool().delete(new DeleteRequest(entry.getDN()));
    return find(target.worker()) == null
        ? new Outcome.Confirmed("", "")
        : new Outcome.NotNow("The entry was deleted, but is still there", Optional.empty());
  }

  private Outcome seen(Target target, String note) throws LDAPException {
    var entry = find(target.worker());
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

  private String dn(String name, String container) {
    return new RDN(nameAttribute, name) + (container.isEmpty() ? "" : "," + container) + "," + base;
  }

  private @Nullable SearchResultEntry find(String worker) throws LDAPException {
    return pool()
        .searchForEntry(
            new SearchRequest(
                base,
                SearchScope.SUB,
                Filter.createEqualityFilter(keyAttribute, worker),
                "*",
                "entryUUID",
                lockAttribute));
  }

  @Override
  public Health test() {
    var before = System.nanoTime();
    try {
      pool().getEntry(base, "1.1");
      var millis = (System.nanoTime() - before) / 1_000_000;
      return new Health(true, "answers in " + millis + " ms", millis);
    } catch (LDAPException failed) {
      return new Health(false, sentence(failed), 0);
    }
  }

  @Override
  public void list(Consumer<Seen> each) {
    try {
      @Nullable ASN1OctetString cookie = null;
      do {
        var search =
            new SearchRequest(
                base,
                SearchScope.SUB,
                Filter.createPresenceFilter(keyAttribute),
                nameAttribute,
                keyAttribute,
                "entryUUID",
                lockAttribute);
        search.addControl(new SimplePagedResultsControl(PAGE, cookie));
        var result = pool().search(search);
        for (var entry : result.getSearchEntries()) {
          each.accept(
              new Seen(
                  String.valueOf(entry.getAttributeValue("entryUUID")),
                  String.valueOf(entry.getAttributeValue(nameAttribute)),
                  String.valueOf(entry.getAttributeValue(keyAttribute)),
                  !entry.hasAttribute(lockAttribute)));
        }
        var page = SimplePagedResultsControl.get(result);
        cookie = page != null && page.moreResultsToReturn() ? page.getCookie() : null;
      } while (cookie != null);
    } catch (LDAPException failed) {
      throw new CannotRead(sentence(failed));
    }
  }

  private LDAPConnectionPool pool() throws LDAPException {
    var open = pool;
    if (open != null) {
      return open;
    }
    synchronized (this) {
      if (pool == null) {
        var first = connect();
        first.bind(bindDn, password);
        var made = new LDAPConnectionPool(first, 1, application.parallel());
        made.setRetryFailedOperationsDueToInvalidConnections(true);
        made.setCreateIfNecessary(true);
        pool = made;
      }
      return Objects.requireNonNull(pool);
    }
  }

  private LDAPConnection connect() throws LDAPException {
    var options = new LDAPConnectionOptions();
    options.setConnectTimeoutMillis(CONNECT_MILLIS);
    options.setResponseTimeoutMillis(ANSWER_MILLIS);
    return new LDAPConnection(options, url.getHost(), url.getPort());
  }

  private static Outcome outcome(LDAPException failed) {
    var code = failed.getResultCode();
    if (!failed.getResultCode().isConnectionUsable() || code.equals(ResultCode.CONNECT_ERROR)) {
      return new Outcome.Unreachable(sentence(failed));
    }
    if (code.equals(ResultCode.BUSY) || code.equals(ResultCode.UNAVAILABLE)) {
      return new Outcome.NotNow(sentence(failed), Optional.empty());
    }
    return new Outcome.Refused(sentence(failed));
  }

  private static String sentence(LDAPException failed) {
    var diagnostic =
        failed instanceof LDAPSearchException || failed.getDiagnosticMessage() == null
            ? failed.getMessage()
            : failed.getDiagnosticMessage();
    return "%s: %s".formatted(failed.getResultCode().getName(), diagnostic);
  }

  @Override
  public void close() {
    var open = pool;
    if (open != null) {
      open.close();
    }
  }
}
