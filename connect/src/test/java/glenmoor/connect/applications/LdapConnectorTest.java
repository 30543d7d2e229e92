package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.Modification;
import com.unboundid.ldap.sdk.ModificationType;
import com.unboundid.ldap.sdk.ResultCode;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.ldap.sdk.extensions.PasswordModifyExtendedRequest;
import glenmoor.connect.applications.Connector.Membership;
import glenmoor.connect.applications.Connector.Seen;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Against the real slapd. */
class LdapConnectorTest {
  private static final AtomicInteger NUMBER =
      new AtomicInteger((int) (System.nanoTime() / 1_000_000 % 1_000_000));
  private static final String BASE = "dc=skerryline,dc=example";

  private final String worker = "T-" + NUMBER.incrementAndGet();
  private final String name = "tester" + NUMBER.get();
  private Connector connector;
  private static final String CREW = "cn=crew,ou=groups," + BASE;
  private LDAPConnection directory;

  @BeforeEach
  void connect() throws Exception {
    connector =
        Testbed.open(Testbed.application("ldap", Testbed.directorySettings(), "cn", "sn", "title"));
    directory =
        new LDAPConnection(
            "127.0.0.1",
            Integer.parseInt(Testbed.environment("GLENMOOR_TEST_DIRECTORY_PORT")),
            "cn=glenmoor," + BASE,
            Files.readString(Path.of(Testbed.environment("GLENMOOR_TEST_DIRECTORY_PASSWORD_FILE")))
                .strip());
  }

  @AfterEach
  void close() {
    connector.close();
    directory.close();
  }

  private Outcome carryOut(ProvisioningCommand command) {
    return connector.carryOut(
        command, Testbed.target(worker, name, "ou=westholm", "", false), sealed -> sealed);
  }

  private void confirmed(ProvisioningCommand command) {
    assertThat(carryOut(command)).isInstanceOf(Outcome.Confirmed.class);
  }

  private ProvisioningCommand.Create create(AccountState state) {
    return new ProvisioningCommand.Create(
        name, "ou=westholm", Map.of("cn", "Test Er", "sn", "Er", "title", "deckhand"), state);
  }

  private String dn() throws LDAPException {
    return entry("1.1").getFirst();
  }

  private List<String> entry(String attribute) throws LDAPException {
    var found =
        directory.search(
            "ou=people," + BASE, SearchScope.SUB, "(employeeNumber=" + worker + ")", attribute);
    assertThat(found.getEntryCount()).isEqualTo(1);
    var entry = found.getSearchEntries().getFirst();
    var values = entry.getAttributeValues(attribute);
    return attribute.equals("1.1")
        ? List.of(entry.getDN())
        : values == null ? List.of() : Arrays.asList(values);
  }

  private boolean canBind(String password) throws LDAPException {
    try (var own =
        new LDAPConnection(
            "127.0.0.1", Integer.parseInt(Testbed.environment("GLENMOOR_TEST_DIRECTORY_PORT")))) {
      own.bind(dn(), password);
      return true;
    } catch (LDAPException refused) {
      return false;
    }
  }

  @Test
  void an_account_is_created_in_its_container_and_found_by_its_worker_number() throws Exception {
    var outcome = carryOut(create(AccountState.ENABLED));
    assertThat(outcome)
        .isInstanceOfSatisfying(
            Outcome.Confirmed.class, done -> assertThat(done.nativeId()).isNotEmpty());
    assertThat(dn()).isEqualTo("uid=" + name + ",ou=westholm,ou=people," + BASE);
    assertThat(entry("title")).containsExactly("deckhand");
  }

  @Test
  void creating_twice_adopts_what_is_there() throws Exception {
    confirmed(create(AccountState.ENABLED));
    assertThat(carryOut(create(AccountState.ENABLED)))
        .isInstanceOfSatisfying(
            Outcome.Confirmed.class, done -> assertThat(done.note()).contains("adopted"));
    assertThat(entry("uid")).containsExactly(name);
  }

  @Test
  void a_name_that_a_stranger_has_is_refused_and_left_alone() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var other = Testbed.target("T-stranger", name, "ou=westholm", "", false);
    assertThat(connector.carryOut(create(AccountState.ENABLED), other, sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("is taken"));
    assertThat(entry("employeeNumber")).containsExactly(worker);
  }

  @Test
  void a_container_that_is_not_there_is_refused_with_its_name() {
    var command =
        new ProvisioningCommand.Create(
            name, "ou=nowhere", Map.of("cn", "T", "sn", "T"), AccountState.ENABLED);
    assertThat(carryOut(command))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("ou=nowhere"));
  }

  @Test
  void a_password_opens_the_account_and_disabling_shuts_it() throws Exception {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.SetPassword("tide-7731-quay"));
    assertThat(canBind("tide-7731-quay")).isTrue();
    confirmed(new ProvisioningCommand.Disable());
    assertThat(canBind("tide-7731-quay")).isFalse();
    confirmed(new ProvisioningCommand.Disable());
    confirmed(new ProvisioningCommand.Enable());
    assertThat(canBind("tide-7731-quay")).isTrue();
  }

  @Test
  void a_passcode_is_replaced_as_long_as_it_is_the_one_and_stays_once_they_have_their_own()
      throws Exception {
    confirmed(create(AccountState.ENABLED));
    var mark = mark(new ProvisioningCommand.SetPassword("tide-7731-quay"));
    assertThat(mark).hasSize(64);
    var expired = mark(new ProvisioningCommand.SetPassword("nobody-knows-1", mark));
    assertThat(canBind("tide-7731-quay")).isFalse();
    assertThat(expired).isNotEqualTo(mark);
    // The same text twice is kept with another salt, so that it is another mark.
    var again = mark(new ProvisioningCommand.SetPassword("tide-7731-quay"));
    assertThat(again).isNotEqualTo(mark);
    directory.processExtendedOperation(
        new PasswordModifyExtendedRequest(dn(), "tide-7731-quay", "my-own-4410"));
    var left = carryOut(new ProvisioningCommand.SetPassword("nobody-knows-2", again));
    assertThat(left.sentence()).isEqualTo("left as it is: it was changed since");
    assertThat(canBind("my-own-4410")).isTrue();
    assertThat(canBind("nobody-knows-2")).isFalse();
  }

  @Test
  void groups_that_somebody_looks_after_go_to_another_and_other_owners_stay() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var settings = Testbed.directorySettings();
    settings.put("owner-attribute", "owner");
    var manager = "B-" + NUMBER.incrementAndGet();
    var managers = "boss" + NUMBER.get();
    var groups = List.of("quay" + NUMBER.get(), "slip" + NUMBER.get());
    try (var owning = Testbed.open(Testbed.application("ldap", settings, "cn", "sn", "title"))) {
      assertThat(carryOut(owning, new ProvisioningCommand.HandOver(manager)).sentence())
          .isEqualTo("they look after no group");
      for (var group : groups) {
        directory.add(
            "dn: cn=%s,ou=groups,%s".formatted(group, BASE),
            "objectClass: groupOfNames",
            "cn: " + group,
            "member: cn=glenmoor," + BASE,
            "owner: " + dn(),
            "owner: cn=glenmoor," + BASE);
      }
      assertThat(carryOut(owning, new ProvisioningCommand.HandOver(manager)))
          .as("nobody to give them to")
          .isInstanceOf(Outcome.Refused.class);
      var made =
          owning.carryOut(
              new ProvisioningCommand.Create(
                  managers, "ou=westholm", Map.of("cn", "B", "sn", "B"), AccountState.ENABLED),
              Testbed.target(manager, managers, "ou=westholm", "", false),
              sealed -> sealed);
      assertThat(made).isInstanceOf(Outcome.Confirmed.class);
      for (var time = 0; time < 2; time++) {
        assertThat(carryOut(owning, new ProvisioningCommand.HandOver(manager)))
            .isInstanceOf(Outcome.Confirmed.class);
      }
    }
    for (var group : groups) {
      assertThat(
              directory
                  .getEntry("cn=%s,ou=groups,%s".formatted(group, BASE), "owner")
                  .getAttributeValues("owner"))
          .containsExactlyInAnyOrder(
              "uid=%s,ou=westholm,ou=people,%s".formatted(managers, BASE), "cn=glenmoor," + BASE);
      directory.delete("cn=%s,ou=groups,%s".formatted(group, BASE));
    }
  }

  private String mark(ProvisioningCommand command) {
    return ((Outcome.Confirmed) carryOut(command)).mark();
  }

  @Test
  void an_account_made_ready_cannot_be_used() throws Exception {
    confirmed(create(AccountState.DISABLED));
    confirmed(new ProvisioningCommand.SetPassword("tide-7731-quay"));
    assertThat(canBind("tide-7731-quay")).isFalse();
  }

  @Test
  void groups_are_joined_and_left_and_twice_is_the_same_as_once() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var add = new ProvisioningCommand.Add("directory/crew", "crew", "group");
    confirmed(add);
    confirmed(add);
    assertThat(entry("memberOf")).containsExactly("cn=crew,ou=groups," + BASE);
    var remove = new ProvisioningCommand.Remove("directory/crew", "crew", "group");
    confirmed(remove);
    confirmed(remove);
    assertThat(entry("memberOf")).isEmpty();
  }

  @Test
  void a_group_that_is_not_there_is_refused() {
    confirmed(create(AccountState.ENABLED));
    assertThat(carryOut(new ProvisioningCommand.Add("directory/x", "no-such-group", "group")))
        .isInstanceOf(Outcome.Refused.class);
  }

  @Test
  void a_rename_and_a_move_take_the_groups_along() throws Exception {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("directory/crew", "crew", "group"));
    confirmed(
        new ProvisioningCommand.Update(
            name + "x", "ou=gull-sound", Map.of("cn", "Test Er", "sn", "Er")));
    assertThat(dn()).isEqualTo("uid=" + name + "x,ou=gull-sound,ou=people," + BASE);
    assertThat(entry("title")).isEmpty();
    assertThat(directory.compare("cn=crew,ou=groups," + BASE, "member", dn()).compareMatched())
        .isTrue();
    confirmed(new ProvisioningCommand.Remove("directory/crew", "crew", "group"));
    assertThat(directory.compare("cn=crew,ou=groups," + BASE, "member", dn()).compareMatched())
        .isFalse();
  }

  /** As a directory is left that was killed after it moved an entry and before its groups. */
  private String killedWhileItMoved() throws LDAPException {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("directory/crew", "crew", "group"));
    var before = dn();
    directory.modifyDN(before, "uid=" + name + "x", true);
    directory.modify(
        CREW,
        new Modification(ModificationType.DELETE, "member", dn()),
        new Modification(ModificationType.ADD, "member", before));
    return before;
  }

  @Test
  void a_rename_that_was_killed_before_its_groups_followed_takes_them_along_at_the_next_try()
      throws Exception {
    var before = killedWhileItMoved();
    confirmed(
        new ProvisioningCommand.Update(
            name + "x", "ou=westholm", Map.of("cn", "Test Er", "sn", "Er")));
    assertThat(directory.compare(CREW, "member", dn()).compareMatched()).isTrue();
    assertThat(directory.compare(CREW, "member", before).compareMatched())
        .as("whoever is given that name one day is in no group by it")
        .isFalse();
  }

  @Test
  void what_is_deleted_is_in_no_group_under_any_name_it_had() throws Exception {
    var before = killedWhileItMoved();
    confirmed(new ProvisioningCommand.Delete());
    assertThat(directory.compare(CREW, "member", before).compareMatched()).isFalse();
  }

  @Test
  void deleting_leaves_nothing_and_twice_is_the_same_as_once() throws Exception {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Delete());
    assertThat(carryOut(new ProvisioningCommand.Delete())).isInstanceOf(Outcome.Gone.class);
    assertThat(
            directory
                .search("ou=people," + BASE, SearchScope.SUB, "(employeeNumber=" + worker + ")")
                .getEntryCount())
        .isZero();
  }

  @Test
  void what_is_gone_cannot_be_changed_and_need_not_be_shut() {
    for (var command :
        List.of(
            new ProvisioningCommand.Enable(),
            new ProvisioningCommand.Disable(),
            new ProvisioningCommand.Delete())) {
      assertThat(carryOut(command)).isInstanceOf(Outcome.Gone.class);
    }
    assertThat(carryOut(new ProvisioningCommand.Remove("directory/crew", "crew", "group")))
        .isInstanceOf(Outcome.Gone.class);
  }

  @Test
  void all_accounts_are_listed_over_several_pages() {
    confirmed(create(AccountState.DISABLED));
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    assertThat(seen)
        .filteredOn(each -> each.worker().equals(worker))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.name()).isEqualTo(name);
          assertThat(each.enabled()).isFalse();
        });
  }

  @Test
  void what_is_listed_of_an_account_is_what_is_compared() {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Add("directory/crew", "crew", "group"));
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    var own = seen.stream().filter(each -> each.worker().equals(worker)).findFirst().orElseThrow();
    assertThat(own.container()).isEqualTo("ou=westholm");
    assertThat(own.attributes()).containsEntry("title", "deckhand").containsEntry("sn", "Er");
    var in = new ArrayList<Membership>();
    connector.memberships(in::add);
    assertThat(in).contains(new Membership(own.reference(), "group", "crew"));
  }

  @Test
  void a_directory_tells_when_somebody_last_signed_in() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var settings = Testbed.directorySettings();
    settings.put("last-used", "pwdLastSuccess");
    try (var telling = Testbed.open(Testbed.application("ldap", settings, "cn", "sn", "title"))) {
      assertThat(lastUsed(telling)).as("nobody was there yet").isNull();
      // A passcode that is set is tried, and the directory takes that for a sign-in.
      confirmed(new ProvisioningCommand.SetPassword("tide-7731-quay"));
      var before = Instant.now().minusSeconds(2);
      assertThat(canBind("tide-7731-quay")).isTrue();
      assertThat(lastUsed(telling)).isAfter(before);
    }
    assertThat(lastUsed(connector)).as("where it is not asked for").isNull();
    settings.put("last-used", "title");
    try (var wrong = Testbed.open(Testbed.application("ldap", settings, "cn", "sn", "title"))) {
      assertThat(lastUsed(wrong)).as("what is no moment tells nothing").isNull();
    }
  }

  private @Nullable Instant lastUsed(Connector from) {
    var seen = new ArrayList<Seen>();
    from.list(seen::add);
    return seen.stream()
        .filter(each -> each.worker().equals(worker))
        .findFirst()
        .orElseThrow()
        .lastUsed();
  }

  @Test
  void an_entry_that_is_nobodys_is_listed_claimed_once_and_deleted_only_while_it_is_nobodys()
      throws Exception {
    for (var stray : List.of("a", "b")) {
      directory.add(
          "dn: uid=" + name + stray + ",ou=people," + BASE,
          "objectClass: inetOrgPerson",
          "uid: " + name + stray,
          "cn: Stray",
          "sn: Stray");
    }
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    var strays = seen.stream().filter(each -> each.name().startsWith(name)).toList();
    assertThat(strays).extracting(Seen::worker).containsOnly("");
    assertThat(strays).extracting(Seen::container).containsOnly("");
    var first = strays.getFirst().nativeId();
    assertThat(connector.claim(first, worker)).isInstanceOf(Outcome.Confirmed.class);
    assertThat(entry("uid")).hasSize(1);
    assertThat(connector.claim(first, worker + "-other"))
        .as("somebody else's")
        .isInstanceOf(Outcome.Refused.class);
    assertThat(connector.deleteStray(first)).isInstanceOf(Outcome.Refused.class);
    var second = strays.getLast().nativeId();
    assertThat(connector.deleteStray(second)).isInstanceOf(Outcome.Confirmed.class);
    assertThat(connector.deleteStray(second)).isInstanceOf(Outcome.Gone.class);
    confirmed(new ProvisioningCommand.Delete());
  }

  @Test
  void a_directory_that_is_away_is_unreachable_and_the_test_says_so() {
    var settings = Testbed.directorySettings();
    settings.put("url", "ldap://127.0.0.1:9");
    try (var away = Testbed.open(Testbed.application("ldap", settings))) {
      var target = Testbed.target(worker, name, "", "", false);
      assertThat(away.carryOut(new ProvisioningCommand.Enable(), target, sealed -> sealed))
          .isInstanceOf(Outcome.Unreachable.class);
      assertThat(away.test().well()).isFalse();
      assertThatThrownBy(() -> away.list(each -> {})).isInstanceOf(Connector.CannotRead.class);
    }
  }

  @Test
  void a_setting_from_the_environment_that_is_not_there_says_which() {
    var settings = Testbed.directorySettings();
    settings.put("url", "${GLENMOOR_NO_SUCH_THING}");
    assertThatThrownBy(() -> Testbed.open(Testbed.application("ldap", settings)))
        .isInstanceOf(Settings.BadSetting.class)
        .hasMessageContaining("GLENMOOR_NO_SUCH_THING");
  }

  private static Connector overTls(Map<String, Object> more) {
    var settings = new TreeMap<>(Testbed.directorySettings());
    settings.put(
        "url", "ldaps://127.0.0.1:" + Testbed.environment("GLENMOOR_TEST_DIRECTORY_TLS_PORT"));
    settings.putAll(more);
    return Testbed.open(Testbed.application("ldap", settings, "cn", "sn", "title"));
  }

  @Test
  void over_tls_only_a_certificate_that_is_trusted_will_do() {
    var trusted =
        Map.<String, Object>of(
            "trust-file", Testbed.environment("GLENMOOR_TEST_DIRECTORY_TRUST_FILE"));
    try (var safe = overTls(trusted);
        var wary = overTls(Map.of())) {
      assertThat(safe.test().well()).isTrue();
      assertThat(wary.test().well()).isFalse();
      var command = create(AccountState.ENABLED);
      var target = Testbed.target(worker, name, "ou=westholm", "", false);
      assertThat(wary.carryOut(command, target, sealed -> sealed))
          .isInstanceOf(Outcome.Unreachable.class);
      assertThat(safe.carryOut(command, target, sealed -> sealed))
          .isInstanceOf(Outcome.Confirmed.class);
    }
  }

  @Test
  void a_trust_file_that_is_none_is_told_before_anything_is_sent() {
    assertThatThrownBy(() -> overTls(Map.of("trust-file", "/nowhere.pem")))
        .isInstanceOf(Settings.BadSetting.class)
        .hasMessageContaining("/nowhere.pem");
  }

  @Test
  void health_is_told_even_while_nothing_is_to_be_sent() {
    var held = Testbed.application("ldap", Testbed.directorySettings(), 0, "cn");
    try (var connector = Testbed.open(held)) {
      assertThat(connector.test().well()).isTrue();
    }
  }

  @Test
  void a_worker_number_that_differs_in_case_only_is_another_persons() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var other = Testbed.target(worker.toLowerCase(), name + "b", "ou=westholm", "", false);
    var command =
        new ProvisioningCommand.Create(
            name + "b", "ou=westholm", Map.of("cn", "B", "sn", "B"), AccountState.ENABLED);
    for (var each :
        List.of(command, new ProvisioningCommand.Delete(), new ProvisioningCommand.Disable())) {
      assertThat(connector.carryOut(each, other, sealed -> sealed))
          .isInstanceOfSatisfying(
              Outcome.Refused.class,
              no -> assertThat(no.reason()).contains("which reads " + worker));
    }
    assertThat(entry("uid")).containsExactly(name);
    assertThat(entry("pwdAccountLockedTime")).isEmpty();
  }

  @Test
  void an_entry_that_another_account_has_is_not_adopted() throws Exception {
    confirmed(create(AccountState.ENABLED));
    var command =
        new ProvisioningCommand.Create(
            name + "c", "ou=westholm", Map.of("cn", "C", "sn", "C"), AccountState.ENABLED);
    var target = new Target(worker, name + "c", "", "", "", false, false, null, id -> true);
    assertThat(connector.carryOut(command, target, sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("somebody else's"));
    assertThat(entry("cn")).containsExactly("Test Er");
  }

  @Test
  void an_entry_that_lost_its_worker_number_is_neither_shut_nor_called_gone() throws Exception {
    var made = (Outcome.Confirmed) carryOut(create(AccountState.ENABLED));
    var dn = dn();
    directory.modify(
        dn, new Modification(ModificationType.REPLACE, "employeeNumber", worker + "-lost"));
    var target = Testbed.target(worker, name, "ou=westholm", made.nativeId(), false);
    assertThat(connector.carryOut(new ProvisioningCommand.Delete(), target, sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, no -> assertThat(no.reason()).contains("no longer does"));
    assertThat(directory.getEntry(dn)).isNotNull();
  }

  @Test
  void a_group_that_is_not_there_has_no_members() {
    confirmed(create(AccountState.ENABLED));
    confirmed(new ProvisioningCommand.Remove("directory/x", "no-such-group", "group"));
  }

  @Test
  void groups_and_containers_are_made_where_the_settings_say_so() throws Exception {
    var settings = Testbed.directorySettings();
    settings.put("make", "yes");
    try (var making = Testbed.open(Testbed.application("ldap", settings, "cn", "sn"))) {
      var container = "ou=quay-" + worker;
      var target = Testbed.target(worker, name, container, "", false);
      var command =
          new ProvisioningCommand.Create(
              name, container, Map.of("cn", "T", "sn", "T"), AccountState.ENABLED);
      assertThat(making.carryOut(command, target, sealed -> sealed))
          .isInstanceOf(Outcome.Confirmed.class);
      assertThat(
              making.carryOut(
                  new ProvisioningCommand.Add("directory/n", "new-" + worker, "group"),
                  target,
                  sealed -> sealed))
          .isInstanceOf(Outcome.Confirmed.class);
      assertThat(
              directory
                  .compare("cn=new-" + worker + ",ou=groups," + BASE, "member", dn())
                  .compareMatched())
          .isTrue();
    }
  }

  @Test
  void a_wrong_password_of_ours_and_a_wrong_base_are_nobodys_fault_but_ours() throws Exception {
    var settings = Testbed.directorySettings();
    var wrong = Files.writeString(Files.createTempFile("wrong", ".password"), "wrong");
    settings.put("password-file", wrong.toString());
    try (var shut = Testbed.open(Testbed.application("ldap", settings))) {
      assertThat(shut.carryOut(new ProvisioningCommand.Enable(), target(), sealed -> sealed))
          .isInstanceOf(Outcome.WrongCredentials.class);
    }
    settings = Testbed.directorySettings();
    settings.put("people-base", "ou=nobody,dc=skerryline,dc=example");
    try (var lost = Testbed.open(Testbed.application("ldap", settings))) {
      assertThat(lost.carryOut(new ProvisioningCommand.Disable(), target(), sealed -> sealed))
          .isNotInstanceOf(Outcome.Gone.class)
          .isNotInstanceOf(Outcome.Confirmed.class);
      assertThat(lost.test().well()).isFalse();
      assertThat(lost.examine(List.of()).missing()).anyMatch(each -> each.contains("ou=nobody"));
    }
  }

  private Target target() {
    return Testbed.target(worker, name, "ou=westholm", "", false);
  }

  @Test
  void codes_that_pass_are_not_now_and_a_protocol_error_is_the_entrys_own() {
    for (var code : List.of(3, 11, 51, 52, 53)) {
      assertThat(LdapConnector.outcome(new LDAPException(ResultCode.valueOf(code), "later")))
          .isInstanceOf(Outcome.NotNow.class);
    }
    for (var code : List.of(49, 50)) {
      assertThat(LdapConnector.outcome(new LDAPException(ResultCode.valueOf(code), "no")))
          .isInstanceOf(Outcome.WrongCredentials.class);
    }
    for (var code : List.of(81, 85, 91)) {
      assertThat(LdapConnector.outcome(new LDAPException(ResultCode.valueOf(code), "away")))
          .isInstanceOf(Outcome.Unreachable.class);
    }
    assertThat(LdapConnector.outcome(new LDAPException(ResultCode.PROTOCOL_ERROR, "what")))
        .isInstanceOf(Outcome.Refused.class);
    assertThat(LdapConnector.outcome(new LDAPException(ResultCode.REFERRAL, "there")))
        .isInstanceOf(Outcome.WrongSettings.class);
  }

  @Test
  void what_must_be_there_beforehand_is_told_in_a_sentence_each() {
    var findings =
        connector.examine(
            List.of(
                new Entitlement("directory/crew", "testbed", "crew", "Crew", "group"),
                new Entitlement("directory/no", "testbed", "no-such-group", "No", "group")));
    assertThat(findings.missing())
        .singleElement()
        .asString()
        .contains("cn=no-such-group,ou=groups," + BASE, "directory/no");
  }

  /** Has the connector open as many connections as it may. */
  private void severalConnections() throws InterruptedException {
    var asking = new ArrayList<Thread>();
    for (var i = 0; i < 40; i++) {
      asking.add(Thread.ofPlatform().start(() -> carryOut(new ProvisioningCommand.Disable())));
    }
    for (var each : asking) {
      each.join();
    }
  }

  /** A connector that reaches the directory through something that breaks connections. */
  private Connector through(BrokenWire wire) {
    var settings = Testbed.directorySettings();
    settings.put("url", "ldap://127.0.0.1:" + wire.port());
    return Testbed.open(Testbed.application("ldap", settings, "cn", "sn", "title"));
  }

  private Outcome carryOut(Connector by, ProvisioningCommand command) {
    return by.carryOut(
        command, Testbed.target(worker, name, "ou=westholm", "", false), sealed -> sealed);
  }

  @Test
  void an_add_whose_answer_was_lost_is_looked_at_before_it_is_judged() throws Exception {
    try (var wire = new BrokenWire(directory.getConnectedPort());
        var by = through(wire)) {
      assertThat(by.test().well()).isTrue();
      wire.breakAfter(BrokenWire.ADD);
      assertThat(carryOut(by, create(AccountState.ENABLED))).isInstanceOf(Outcome.Confirmed.class);
      assertThat(wire.broke()).isTrue();
    }
    assertThat(dn()).isEqualTo("uid=" + name + ",ou=westholm,ou=people," + BASE);
  }

  @Test
  void a_rename_whose_answer_was_lost_is_looked_at_before_it_is_judged() throws Exception {
    confirmed(create(AccountState.ENABLED));
    try (var wire = new BrokenWire(directory.getConnectedPort());
        var by = through(wire)) {
      assertThat(by.test().well()).isTrue();
      wire.breakAfter(BrokenWire.RENAME);
      var renamed =
          new ProvisioningCommand.Update(
              name + "n", "ou=westholm", Map.of("cn", "Test Er", "sn", "Er", "title", "deckhand"));
      assertThat(carryOut(by, renamed)).isInstanceOf(Outcome.Confirmed.class);
      assertThat(wire.broke()).isTrue();
    }
    assertThat(dn()).isEqualTo("uid=" + name + "n,ou=westholm,ou=people," + BASE);
  }

  @Test
  void more_accounts_than_a_page_holds_are_all_listed() throws Exception {
    var many = 620;
    for (var i = 0; i < many; i++) {
      directory.add(
          "dn: uid=" + name + "p" + i + ",ou=westholm,ou=people," + BASE,
          "objectClass: inetOrgPerson",
          "uid: " + name + "p" + i,
          "cn: P",
          "sn: P",
          "employeeNumber: " + worker + "-p" + i);
    }
    try {
      severalConnections();
      var seen = new ArrayList<Seen>();
      connector.list(seen::add);
      assertThat(seen).filteredOn(each -> each.worker().startsWith(worker + "-p")).hasSize(many);
    } finally {
      for (var i = 0; i < many; i++) {
        directory.delete("uid=" + name + "p" + i + ",ou=westholm,ou=people," + BASE);
      }
    }
  }
}
