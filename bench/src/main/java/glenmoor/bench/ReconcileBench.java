package glenmoor.bench;

import com.unboundid.asn1.ASN1OctetString;
import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPConnectionPool;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.SearchRequest;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.controls.SimplePagedResultsControl;
import com.unboundid.ldif.LDIFException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;

/**
 * Comparing 100,000 accounts in slapd, each with a right, with what is expected of them, against a
 * bare paged search of the same entries and groups over one connection: for the first time, when
 * they are known by worker numbers only, and on any later day, by the directory's identities.
 */
final class ReconcileBench {
  private static final int ACCOUNTS = 100_000;
  private static final int IN_A_GROUP = 1_000;
  private static final int PAGE = 500;
  private static final int SIDE_BY_SIDE = 8;
  private static final int ROUNDS = 5;

  /** A service that was just started compiles for a while; a round is like the one before then. */
  private static final int MOST_WARM_UPS = 12;

  private static final double ALIKE = 0.08;
  private static final String BASE = "dc=skerryline,dc=example";
  private static final String PEOPLE = "ou=people," + BASE;
  private static final String GROUPS = "ou=groups," + BASE;

  private ReconcileBench() {}

  static void run(BenchmarkEnvironment environment) throws Exception {
    var port =
        Integer.parseInt(Files.readString(environment.home().resolve("ports/directory")).strip());
    var secrets = environment.home().resolve("secrets/applications");
    var secret = secrets.resolve("directory");
    try (var service =
        environment.service(
            Map.of(
                "GLENMOOR_APPLICATION_DIRECTORY_URL",
                "ldap://127.0.0.1:" + port,
                "GLENMOOR_SECRETS_DIRECTORY",
                secrets.toString()))) {
      try (var pool = new LDAPConnectionPool(connection(port, secret), SIDE_BY_SIDE)) {
        // What an earlier run put there is used again.
        if (pool.getEntry("cn=group" + (ACCOUNTS / IN_A_GROUP - 1) + "," + GROUPS) == null) {
          fill(pool);
        }
      }
      service.define(definitions());
      try (var connection = environment.database("glenmoor_bench");
          var statement = connection.createStatement()) {
        for (var each : ROWS.split(";\n")) {
          statement.execute(each.replace("@", String.valueOf(ACCOUNTS - 1)));
        }
      }
      try (var connection = environment.database("glenmoor_bench")) {
        identities(connection, port, secret);
        compare(service, port, secret, "one of %,d accounts with a right each");
        // What is kept of first ones is deleted while others are measured; so they come last.
        connection
            .createStatement()
            .execute("update account set native_id = null, native_key = null");
        compare(service, port, secret, "the first of %,d accounts with a right each");
      }
    }
  }

  private static void compare(
      BenchmarkEnvironment.Service service, int port, Path secret, String what) throws Exception {
    var before = compared(service);
    for (var round = 1; round < MOST_WARM_UPS; round++) {
      bare(port, secret);
      var now = compared(service);
      if (Math.abs(now - before) < before * ALIKE) {
        break;
      }
      before = now;
    }
    var ours = 0.0;
    var theirs = 0.0;
    for (var round = 0; round < ROUNDS; round++) {
      theirs += seconds(() -> bare(port, secret)) / ROUNDS;
      ours += compared(service) / ROUNDS;
    }
    Bench.compare(
        "reconcile: " + what.formatted(ACCOUNTS),
        ours,
        "bare paged search of the same entries",
        theirs,
        "at most 2");
  }

  /**
   * Seconds by the comparison's own record. Whoever would see its end within some milliseconds
   * would have to ask all the time, and that is felt: a seventh of the service's work on two cores.
   */
  private static double compared(BenchmarkEnvironment.Service service) throws Exception {
    var result = service.reconcile("directory");
    if (result.path("accounts").asInt() != ACCOUNTS
        || result.path("memberships").asInt() != ACCOUNTS
        || result.path("drifts").asInt() != 0) {
      throw new IllegalStateException(result.toString());
    }
    var run = service.get("/api/v1/reconciles/" + result.path("id").asString());
    return Duration.between(
                Instant.parse(run.path("startedAt").asString()),
                Instant.parse(run.path("endedAt").asString()))
            .toNanos()
        / 1e9;
  }

  /** Notes the directory's identities, as they are noted when accounts are made or adopted. */
  private static void identities(Connection connection, int port, Path secret) throws Exception {
    connection.setAutoCommit(false);
    try (var one = connection(port, secret);
        var update =
            connection.prepareStatement(
                "update account set native_id = ?, native_key = unhex(sha2(native_id, 256)) where id = ?")) {
      var noted = new AtomicInteger();
      pages(
          one,
          PEOPLE,
          "(objectClass=inetOrgPerson)",
          entry -> {
            update.setString(1, entry.getAttributeValue("entryUUID"));
            update.setLong(
                2, 1 + Long.parseLong(entry.getAttributeValue("uid").substring("crew".length())));
            update.addBatch();
            if (noted.incrementAndGet() % PAGE == 0) {
              update.executeBatch();
            }
          },
          "uid",
          "entryUUID");
      update.executeBatch();
      connection.commit();
      connection.setAutoCommit(true);
    }
  }

  private interface Work {
    void run() throws Exception;
  }

  private static double seconds(Work work) throws Exception {
    var start = System.nanoTime();
    work.run();
    return (System.nanoTime() - start) / 1e9;
  }

  private static LDAPConnection connection(int port, Path secret) throws Exception {
    return new LDAPConnection(
        "127.0.0.1", port, "cn=glenmoor," + BASE, Files.readString(secret).strip());
  }

  private static String name(int number) {
    return "crew" + number;
  }

  private static void fill(LDAPConnectionPool pool) throws Exception {
    try (var workers = Executors.newFixedThreadPool(SIDE_BY_SIDE)) {
      var begun = new ArrayList<Future<?>>();
      for (var from = 0; from < ACCOUNTS; from += IN_A_GROUP) {
        var first = from;
        begun.add(
            workers.submit(() -> {
              group(pool, first);
              return true;
            }));
      }
      for (var each : begun) {
        each.get();
      }
    }
  }

  private static void group(LDAPConnectionPool pool, int first)
      throws LDAPException, LDIFException {
    var lines =
        new ArrayList<>(
            List.of(
                "dn: cn=group" + first / IN_A_GROUP + "," + GROUPS,
                "objectClass: groupOfNames",
                "cn: group" + first / IN_A_GROUP));
    for (var number = first; number < first + IN_A_GROUP; number++) {
      var dn = "uid=" + name(number) + "," + PEOPLE;
      pool.add(
          "dn: " + dn,
          "objectClass: inetOrgPerson",
          "uid: " + name(number),
          "cn: Given Family" + number,
          "sn: Family" + number,
          "employeeNumber: W-" + number);
      lines.add("member: " + dn);
    }
    pool.add(lines.toArray(String[]::new));
  }

  private static void bare(int port, Path secret) throws Exception {
    try (var one = connection(port, secret)) {
      var people = new AtomicInteger();
      pages(
          one,
          PEOPLE,
          "(objectClass=inetOrgPerson)",
          entry -> people.incrementAndGet(),
          "uid",
          "cn",
          "sn",
          "employeeNumber");
      pages(one, GROUPS, "(objectClass=groupOfNames)", entry -> {}, "cn", "member");
      if (people.get() != ACCOUNTS) {
        throw new IllegalStateException(people + " entries");
      }
    }
  }

  private interface Each {
    void entry(SearchResultEntry entry) throws SQLException;
  }

  private static void pages(
      LDAPConnection one, String base, String filter, Each each, String... attributes)
      throws LDAPException, SQLException {
    @Nullable ASN1OctetString cookie = null;
    do {
      var search = new SearchRequest(base, SearchScope.SUB, filter, attributes);
      search.addControl(new SimplePagedResultsControl(PAGE, cookie));
      var result = one.search(search);
      for (var entry : result.getSearchEntries()) {
        each.entry(entry);
      }
      var page = SimplePagedResultsControl.get(result);
      cookie = page != null && page.moreResultsToReturn() ? page.getCookie() : null;
    } while (cookie != null);
  }

  private static String definitions() {
    var yaml =
        new StringBuilder(
            """
            fact: given
            ---
            fact: family
            ---
            fact: start
            type: date
            ---
            source: hr
            worker: Worker no
            columns: {Given: given, Family: family, First day: start}
            ---
            application: directory
            connector: ldap
            settings:
              url: ${GLENMOOR_APPLICATION_DIRECTORY_URL}
              bind-dn: cn=glenmoor,dc=skerryline,dc=example
              password-file: directory
              people-base: ou=people,dc=skerryline,dc=example
              group-base: ou=groups,dc=skerryline,dc=example
              make: yes
            account:
              name: '"crew" + person.family'
              attributes: {cn: person.name, sn: person.family}
            """);
    for (var group = 0; group < ACCOUNTS / IN_A_GROUP; group++) {
      yaml.append("---\nentitlement: directory/group").append(group).append('\n');
    }
    return yaml.toString();
  }

  private static final String ROWS =
      """
      insert into person (id, worker_number, worker_key, name, search_name, facts, source, source_digest, starts_on)
      select seq + 1, concat('W-', seq), concat('w-', seq), concat('Given Family', seq), concat('givenfamily', seq), '{}', 'hr', unhex(md5(seq)), '2020-01-01'
      from seq_0_to_@;
      insert into account (id, person_id, application, base_name, number, name, container, attributes, state, seen_state, seen_name, seen_attributes, next_sequence)
      select seq + 1, seq + 1, 'directory', concat('crew', seq), 1, concat('crew', seq), '', concat('{"cn":"Given Family', seq, '","sn":"Family', seq, '"}'), 'enabled', 'enabled', concat('crew', seq), '{}', 2
      from seq_0_to_@;
      insert into holding (account_id, entitlement, desired, observed)
      select seq + 1, concat('directory/group', seq div 1000), true, true
      from seq_0_to_@;
      analyze table person, account, holding\
      """;
}
