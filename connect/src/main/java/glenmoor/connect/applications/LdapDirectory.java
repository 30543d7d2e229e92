package glenmoor.connect.applications;

import com.unboundid.asn1.ASN1OctetString;
import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionOptions;
import com.unboundid.ldap.sdk.LDAPConnectionPool;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.LDAPSearchException;
import com.unboundid.ldap.sdk.LDAPURL;
import com.unboundid.ldap.sdk.RDN;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResult;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.controls.SimplePagedResultsControl;
import com.unboundid.util.ssl.HostNameSSLSocketVerifier;
import com.unboundid.util.ssl.PEMFileTrustManager;
import com.unboundid.util.ssl.SSLUtil;
import glenmoor.connect.applications.Connector.CannotRead;
import glenmoor.connect.applications.Connector.Health;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocketFactory;
import org.jspecify.annotations.Nullable;

/** The directory of an LDAP application: how to reach it, and how accounts are found in it. */
final class LdapDirectory implements AutoCloseable {
  /** The directory's own identity of an entry (RFC 4530). */
  static final String UUID = "entryUUID";

  private static final int LONGEST_DIAGNOSTIC = 300;
  private static final int PAGE = 500;
  private static final int CONNECT_MILLIS = 4_000;
  private static final long ANSWER_MILLIS = 10_000;

  private final LDAPURL url;
  private final String bindDn;
  private final String password;
  private final String base;
  private final String keyAttribute;
  private final String nameAttribute;
  private final String lockAttribute;
  private final SSLSocketFactory tls;
  private final int parallel;
  private volatile @Nullable LDAPConnectionPool pool;

  LdapDirectory(Application application, Settings settings) {
    try {
      url = new LDAPURL(settings.address("url"));
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
    lockAttribute = settings.text("lock-attribute", "pwdAccountLockedTime");
    tls = trusting(settings.text("trust-file", ""), application);
    // Health is asked for even while nothing is sent.
    parallel = Math.max(1, application.parallel());
  }

  /** Trusts the certificates in a PEM file, or without one those the JDK trusts. */
  private static SSLSocketFactory trusting(String file, Application application) {
    try {
      return file.isEmpty()
          ? SSLContext.getDefault().getSocketFactory()
          : new SSLUtil(new PEMFileTrustManager(Path.of(file).toFile())).createSSLSocketFactory();
    } catch (GeneralSecurityException bad) {
      throw new Settings.BadSetting(
          "The trust-file %s of %s cannot be used: %s"
              .formatted(file, application.key(), bad.getMessage()));
    }
  }

  /** Below which all accounts are. */
  String base() {
    return base;
  }

  /** The attribute that carries the worker number. */
  String keyAttribute() {
    return keyAttribute;
  }

  /** The attribute that names an entry. */
  String nameAttribute() {
    return nameAttribute;
  }

  /** The attribute whose presence shuts an account. */
  String lockAttribute() {
    return lockAttribute;
  }

  /** Where an account of this name is kept. */
  String dn(String name, String container) {
    return new RDN(nameAttribute, name) + (container.isEmpty() ? "" : "," + container) + "," + base;
  }

  /**
   * The entry of an account, wherever it is and whatever it is called: the one that carries exactly
   * its worker number. The directory may compare more loosely than that, without regard to case, so
   * what it finds is looked at here.
   *
   * @return null only where the directory has no such entry, and shows that it would show it
   * @throws NotOurs if what is there cannot be taken for the account's own
   */
  @Nullable SearchResultEntry find(Target target) throws LDAPException, NotOurs {
    SearchResultEntry own = null;
    for (var entry : carrying(target.worker())) {
      var values = entry.getAttributeValues(keyAttribute);
      if (values == null) {
        throw new LDAPException(
            ResultCode.INSUFFICIENT_ACCESS_RIGHTS,
            "%s cannot be read in %s".formatted(keyAttribute, entry.getDN()));
      }
      if (!Arrays.asList(values).contains(target.worker())) {
        throw new NotOurs(
            "The directory takes %s for the worker number of %s, which reads %s. One entry serves one person: correct the worker number in the source or in the directory, then try again."
                .formatted(target.worker(), entry.getDN(), values[0]));
      }
      if (own != null) {
        throw new NotOurs(
            "Two entries carry the worker number %s: %s and %s. Leave it to one of them, then try again."
                .formatted(target.worker(), own.getDN(), entry.getDN()));
      }
      own = entry;
    }
    if (own == null) {
      return strayed(target);
    }
    var id = nativeId(own);
    if (!id.equals(target.nativeId()) && target.owners().isOthers(id)) {
      throw new NotOurs(
          "The entry %s belongs to somebody else's account already; one entry serves one person. Give the two different worker numbers in the directory, then try again."
              .formatted(own.getDN()));
    }
    return own;
  }

  /** Nobody carries the worker number; the entry that did may have lost it. */
  private @Nullable SearchResultEntry strayed(Target target) throws LDAPException, NotOurs {
    if (target.nativeId().isEmpty()) {
      return null;
    }
    var strayed = byNativeId(target.nativeId());
    if (strayed != null) {
      throw new NotOurs(
          "The entry %s carried the worker number %s and no longer does, so nothing was done with it. Give it back in the directory, then try again."
              .formatted(strayed.getDN(), target.worker()));
    }
    return null;
  }

  private List<SearchResultEntry> carrying(String worker) throws LDAPException {
    return pool()
        .search(
            new SearchRequest(
                base,
                SearchScope.SUB,
                Filter.createEqualityFilter(keyAttribute, worker),
                "*",
                UUID,
                lockAttribute))
        .getSearchEntries();
  }

  /** An entry is as it should be. */
  static Outcome confirmed(SearchResultEntry entry, String note) {
    return new Outcome.Confirmed(nativeId(entry), note);
  }

  /** The directory's own identity of an entry; empty if it gives none. */
  static String nativeId(SearchResultEntry entry) {
    return Objects.requireNonNullElse(entry.getAttributeValue(UUID), "");
  }

  /** That nothing was found is a proof only where the base itself can be seen. */
  boolean showsItsBase() throws LDAPException {
    return pool().getEntry(base, "1.1") != null;
  }

  Outcome baseIsMissing() {
    return new Outcome.WrongSettings(
        "people-base is %s, which is not there or cannot be read".formatted(base));
  }

  /** What is found there is not the account's own. */
  static final class NotOurs extends Exception {
    private static final long serialVersionUID = 1;

    NotOurs(String sentence) {
      super(sentence);
    }
  }

  Health test() {
    var before = System.nanoTime();
    try {
      if (!showsItsBase()) {
        return new Health(
            false, "people-base is %s, which is not there or cannot be read".formatted(base), 0);
      }
      var millis = (System.nanoTime() - before) / 1_000_000;
      return new Health(true, "answers in " + millis + " ms", millis);
    } catch (LDAPException failed) {
      return new Health(false, sentence(failed), 0);
    }
  }

  /**
   * Goes over entries, page by page, on a connection of its own: the cookie of a page is good only
   * on the connection that gave it (RFC 2696, section 3). The next page is fetched while one is
   * gone over.
   *
   * @throws CannotRead if the directory stops answering
   */
  void pages(
      String from,
      SearchScope scope,
      Filter filter,
      Consumer<SearchResultEntry> each,
      String... attributes) {
    try (var one = connect(true);
        var ahead = Executors.newSingleThreadExecutor(Thread.ofVirtual().factory())) {
      one.bind(bindDn, password);
      @Nullable Future<SearchResult> next =
          ahead.submit(() -> page(one, from, scope, filter, null, attributes));
      while (next != null) {
        var result = next.get();
        var page = SimplePagedResultsControl.get(result);
        var cookie = page != null && page.moreResultsToReturn() ? page.getCookie() : null;
        next =
            cookie == null
                ? null
                : ahead.submit(() -> page(one, from, scope, filter, cookie, attributes));
        result.getSearchEntries().forEach(each);
      }
    } catch (LDAPException failed) {
      throw new CannotRead(sentence(failed));
    } catch (ExecutionException failed) {
      throw failed.getCause() instanceof LDAPException why
          ? new CannotRead(sentence(why))
          : new IllegalStateException(failed.getCause());
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new CannotRead("Reading was stopped.");
    }
  }

  private static SearchResult page(
      LDAPConnection one,
      String from,
      SearchScope scope,
      Filter filter,
      @Nullable ASN1OctetString cookie,
      String... attributes)
      throws LDAPException {
    var search = new SearchRequest(from, scope, filter, attributes);
    search.addControl(new SimplePagedResultsControl(PAGE, cookie));
    return one.search(search);
  }

  /** The entry with this identity of the directory's own, or null. */
  @Nullable SearchResultEntry byNativeId(String nativeId) throws LDAPException {
    return pool()
        .searchForEntry(
            base, SearchScope.SUB, Filter.createEqualityFilter(UUID, nativeId), "*", UUID);
  }

  /** Connections as the service's own user, opened when first needed. */
  LDAPConnectionPool pool() throws LDAPException {
    var open = pool;
    if (open != null) {
      return open;
    }
    synchronized (this) {
      if (pool == null) {
        var first = connect();
        first.bind(bindDn, password);
        var made = new LDAPConnectionPool(first, 1, parallel);
        made.setRetryFailedOperationsDueToInvalidConnections(true);
        made.setCreateIfNecessary(true);
        pool = made;
      }
      return Objects.requireNonNull(pool);
    }
  }

  /** A new connection that nobody is signed in on. */
  LDAPConnection connect() throws LDAPException {
    return connect(false);
  }

  /**
   * @param alone whether nothing is asked on it before the answer to the last question is there: a
   *     thread that hands over entry by entry to the one that waits would only cost time then
   */
  private LDAPConnection connect(boolean alone) throws LDAPException {
    var options = new LDAPConnectionOptions();
    options.setUseSynchronousMode(alone);
    options.setConnectTimeoutMillis(CONNECT_MILLIS);
    options.setResponseTimeoutMillis(ANSWER_MILLIS);
    if (url.getScheme().equals("ldaps")) {
      options.setSSLSocketVerifier(new HostNameSSLSocketVerifier(true));
      return new LDAPConnection(tls, options, url.getHost(), url.getPort());
    }
    return new LDAPConnection(options, url.getHost(), url.getPort());
  }

  static String sentence(LDAPException failed) {
    var diagnostic =
        failed instanceof LDAPSearchException || failed.getDiagnosticMessage() == null
            ? failed.getMessage()
            : failed.getDiagnosticMessage();
    var words = String.valueOf(diagnostic).replaceAll("\\p{Cntrl}", " ");
    return "%s: %s"
        .formatted(
            failed.getResultCode().getName(),
            words.length() > LONGEST_DIAGNOSTIC
                ? words.substring(0, LONGEST_DIAGNOSTIC) + "…"
                : words);
  }

  @Override
  public void close() {
    var open = pool;
    if (open != null) {
      open.close();
    }
  }
}
