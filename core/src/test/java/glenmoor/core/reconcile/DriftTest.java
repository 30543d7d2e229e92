package glenmoor.core.reconcile;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.applications.AccountState;
import glenmoor.core.people.PersonId;
import glenmoor.core.provisioning.Account;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;

class DriftTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");

  private static Account account(AccountState state, @Nullable Instant unneededSince) {
    return new Account(
        7,
        new PersonId(1),
        "directory",
        "kerrowu",
        1,
        "kerrowu",
        "ou=westholm",
        new TreeMap<>(Map.of("title", "deckhand")),
        state,
        new TreeSet<>(Set.of("directory/crew", "directory/deck")),
        unneededSince,
        3,
        false,
        Account.Seen.NOTHING);
  }

  private static FoundAccount found(
      String name,
      String container,
      boolean enabled,
      Map<String, String> attributes,
      String... in) {
    return new FoundAccount(
        "n-1",
        name,
        container,
        "W-1",
        enabled,
        new TreeMap<>(attributes),
        new TreeSet<>(List.of(in)));
  }

  private static FoundAccount asPlanned() {
    return found(
        "kerrowu",
        "ou=westholm",
        true,
        Map.of("title", "deckhand"),
        "directory/crew",
        "directory/deck");
  }

  private static List<String> of(Account account, FoundAccount found) {
    return Drift.between(account, found, true).stream()
        .map(each -> each.kind().word() + " " + each.aspect())
        .toList();
  }

  @Test
  void what_is_as_it_should_be_is_no_drift() {
    assertThat(of(account(AccountState.ENABLED, null), asPlanned())).isEmpty();
  }

  @Test
  void names_and_places_are_compared_without_regard_to_case() {
    var found =
        found(
            "KerrowU",
            "OU=Westholm",
            true,
            Map.of("title", "deckhand"),
            "directory/crew",
            "directory/deck");
    assertThat(of(account(AccountState.ENABLED, null), found)).isEmpty();
  }

  @Test
  void rights_that_nothing_explains_and_rights_that_are_gone_are_told_apart() {
    var found =
        found(
            "kerrowu",
            "ou=westholm",
            true,
            Map.of("title", "deckhand"),
            "directory/crew",
            "directory/finance");
    assertThat(of(account(AccountState.ENABLED, null), found))
        .containsExactly(
            "extra-entitlement entitlement:directory/finance",
            "missing-entitlement entitlement:directory/deck");
  }

  @Test
  void an_application_that_does_not_tell_who_holds_what_lacks_no_right() {
    var found = found("kerrowu", "ou=westholm", true, Map.of("title", "deckhand"));
    assertThat(Drift.between(account(AccountState.ENABLED, null), found, false)).isEmpty();
  }

  @Test
  void what_was_altered_is_one_difference_with_all_that_differs() {
    var found =
        found(
            "other",
            "ou=tarn-point",
            true,
            Map.of("title", "captain", "mail", "x@y.example"),
            "directory/crew",
            "directory/deck");
    assertThat(Drift.between(account(AccountState.ENABLED, null), found, true))
        .singleElement()
        .satisfies(drift -> {
          assertThat(drift.aspect()).isEqualTo("content");
          assertThat(drift.expected())
              .containsEntry("title", "deckhand")
              .containsEntry("mail", "")
              .containsEntry("name", "kerrowu");
          assertThat(drift.found())
              .containsEntry("title", "captain")
              .containsEntry("container", "ou=tarn-point");
        });
  }

  @Test
  void a_leavers_account_that_is_open_again_is_a_ghost_and_one_on_leave_was_altered() {
    assertThat(of(account(AccountState.DISABLED, NOW), asPlanned()))
        .containsExactly("ghost-account enabled");
    assertThat(of(account(AccountState.DISABLED, null), asPlanned()))
        .containsExactly("altered-attribute enabled");
  }

  @Test
  void an_account_that_was_deleted_and_is_there_is_a_ghost_whatever_it_holds() {
    assertThat(of(account(AccountState.NONE, NOW), asPlanned()))
        .containsExactly("ghost-account account");
  }

  @Test
  void an_account_that_is_shut_and_should_not_be_was_altered() {
    var found =
        found(
            "kerrowu",
            "ou=westholm",
            false,
            Map.of("title", "deckhand"),
            "directory/crew",
            "directory/deck");
    assertThat(of(account(AccountState.ENABLED, null), found))
        .containsExactly("altered-attribute enabled");
  }
}
