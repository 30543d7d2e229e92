package glenmoor.engine.identity;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.authorization.Duties;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SignInsTest extends EngineTest {
  private static final Actor AUDITOR =
      new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
  private static final String PASSWORD = "harbour lights";
  private static final String HERE = "192.0.2.7";

  @BeforeEach
  void load() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
  }

  private void una(String... duties) {
    put("una", "W-1", PASSWORD, duties);
  }

  private void put(String login, @Nullable String worker, String password, String... duties) {
    var given = Stream.of(duties).map(words -> environment.duties.read(words, null, null)).toList();
    environment.signIns.put(login, login, worker, password, true, given, TestEnvironment.ISA);
  }

  private SignIns.SignedIn signIn(String login, String password) {
    return environment.signIns.signIn(login, password, HERE);
  }

  private void refused(String login, String password) {
    assertThatThrownBy(() -> signIn(login, password))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("do not belong together");
  }

  private String token(String login) {
    var owner = signIn(login, PASSWORD);
    return environment
        .tokens
        .make(owner, new Tokens.Wanted("laptop", Duration.ofDays(9), Set.of()))
        .token();
  }

  private int epoch() {
    return signIn("una", PASSWORD).epoch();
  }

  @Test
  void a_sign_in_is_the_person_with_their_duties() {
    una("people-desk");
    var actor = signIn("una", PASSWORD).actor();
    assertThat(actor.displayName()).isEqualTo("Una Kerrow");
    assertThat(actor.worker()).isEqualTo("W-1");
    assertThat(actor.duties()).isEqualTo(List.of(Assignment.of(Duty.PEOPLE_DESK)));
  }

  @Test
  void neither_a_wrong_password_nor_an_unknown_name_signs_in() {
    una();
    refused("una", PASSWORD + " ");
    refused("nobody", "nobody has this password");
  }

  @Test
  void a_password_is_kept_only_as_its_argon2id_hash() {
    una();
    assertThat(environment.sql.queryForObject("select password_hash from login", String.class))
        .startsWith("$argon2id$");
  }

  @Test
  void a_token_stands_for_its_maker_until_it_expires() {
    una("auditor");
    var una = environment.signIns.named("una").orElseThrow();
    var owner = signIn("una", PASSWORD);
    var token =
        environment.tokens.make(owner, new Tokens.Wanted("x", Duration.ofDays(1), Set.of()));
    assertThat(environment.tokens.actor(token.token())).contains(una);
    assertThat(environment.tokens.actor(token.token() + "x")).isEmpty();
    assertThat(
            environment.sql.queryForObject(
                "select hex(token_hash) from service_token", String.class))
        .doesNotContain(token.token());
    var past =
        environment.tokens.make(owner, new Tokens.Wanted("x", Duration.ofSeconds(-1), Set.of()));
    assertThat(environment.tokens.actor(past.token())).isEmpty();
  }

  @Test
  void duties_given_anew_take_the_place_of_those_before() {
    una("auditor");
    una("people-desk");
    assertThat(environment.signIns.all(TestEnvironment.ISA).getFirst().duties())
        .extracting(Duties.Given::duty)
        .containsExactly("people-desk");
    assertThat(environment.happened("login:una"))
        .containsExactly("duty-given", "sign-in-set", "duty-ended", "duty-given", "sign-in-set");
  }

  @Test
  void what_cannot_be_a_sign_in_is_refused_with_what_is_wrong() {
    assertThatThrownBy(() -> put("Una!", "W-1", PASSWORD)).hasMessageContaining("Una!");
    assertThatThrownBy(() -> put("glenmoor", "W-1", PASSWORD))
        .hasMessageContaining("service itself");
    assertThatThrownBy(() -> put("una", "W-1", "short")).hasMessageContaining("10 characters");
    assertThatThrownBy(() -> put("una", "W-77", PASSWORD)).hasMessageContaining("W-77");
    assertThatThrownBy(() -> una("captain")).hasMessageContaining("captain");
    assertThat(environment.signIns.all(TestEnvironment.ISA)).isEmpty();
  }

  @Test
  void the_first_administrator_is_made_once() {
    environment.signIns.first("admin", PASSWORD);
    environment.signIns.first("admin", "another password");
    assertThat(signIn("admin", PASSWORD).actor().login()).isEqualTo("admin");
    assertThat(environment.signIns.all(TestEnvironment.ISA)).hasSize(1);
  }

  @Test
  void a_leaver_can_neither_sign_in_nor_go_on_from_the_day_on_which_they_have_left() {
    una("people-desk");
    var epoch = epoch();
    var una = environment.signIns.named("una").orElseThrow();
    var token = token("una");
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    assertThat(environment.signIns.inSession("una", epoch)).as("the last day is one").isPresent();
    environment.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    assertThat(environment.signIns.inSession("una", epoch)).isEmpty();
    assertThat(environment.tokens.actor(token)).isEmpty();
    refused("una", PASSWORD);
  }

  @Test
  void somebody_who_is_missing_from_a_full_feed_loses_it_at_once() {
    environment.load(UNA, BO);
    put("bo", "W-2", PASSWORD);
    environment.load(UNA);
    refused("bo", PASSWORD);
  }

  @Test
  void what_ended_with_a_leaver_does_not_come_back_with_a_rehire() {
    una("auditor");
    var epoch = epoch();
    var una = environment.signIns.named("una").orElseThrow();
    var token = token("una");
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-01,,");
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(environment.tokens.actor(token)).isEmpty();
    assertThat(environment.signIns.inSession("una", epoch)).isEmpty();
    refused("una", PASSWORD);
    assertThat(environment.happened("login:una"))
        .containsSubsequence("sign-in-set", "token-made", "sign-in-ended")
        .filteredOn("sign-in-ended"::equals)
        .hasSize(1);
    assertThat(environment.signIns.all(TestEnvironment.ISA).getFirst().endReason())
        .isEqualTo("left");
    una("auditor");
    assertThat(signIn("una", PASSWORD).actor().login()).isEqualTo("una");
    assertThat(environment.tokens.actor(token)).as("a token stays revoked").isEmpty();
  }

  @Test
  void a_feed_that_brings_back_who_left_by_the_calendar_gives_no_sign_in_back() {
    una("auditor");
    var epoch = epoch();
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    environment.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(environment.signIns.inSession("una", epoch)).isEmpty();
    refused("una", PASSWORD);
  }

  @Test
  void the_end_of_a_leaver_s_sign_in_is_written_once() {
    una("auditor");
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    environment.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    environment.signIns.endLeavers();
    environment.signIns.endLeavers();
    assertThat(environment.happened("login:una"))
        .containsExactly("duty-given", "sign-in-set", "sign-in-ended");
  }

  @Test
  void another_password_ends_sessions_and_tokens() {
    una("auditor");
    var epoch = epoch();
    var una = environment.signIns.named("una").orElseThrow();
    var token = token("una");
    assertThat(environment.signIns.inSession("una", epoch))
        .map(SignIns.SignedIn::actor)
        .contains(una);
    put("una", "W-1", "another password", "auditor");
    assertThat(environment.signIns.inSession("una", epoch)).isEmpty();
    assertThat(environment.tokens.actor(token)).isEmpty();
    assertThat(
            environment.signIns.inSession(
                "una", environment.signIns.signIn("una", "another password", HERE).epoch()))
        .isPresent();
  }

  @Test
  void a_sign_in_is_taken_away_with_a_reason_but_never_the_last_administrators() {
    una("administrator");
    assertThatThrownBy(() -> environment.signIns.takeAway("una", "why not", TestEnvironment.ISA))
        .hasMessageContaining("last administrator");
    assertThatThrownBy(() -> una("auditor")).hasMessageContaining("last administrator");
    put("spare", null, PASSWORD, "administrator");
    assertThatThrownBy(() -> environment.signIns.takeAway("una", " ", TestEnvironment.ISA))
        .hasMessageContaining("Say why");
    assertThat(
            environment.signIns.takeAway("una", "lost her phone", TestEnvironment.ISA).endReason())
        .isEqualTo("lost her phone");
    refused("una", PASSWORD);
    assertThatThrownBy(() -> environment.signIns.takeAway("spare", "x", TestEnvironment.ISA))
        .hasMessageContaining("last administrator");
    assertThatThrownBy(() -> environment.signIns.takeAway("nobody", "x", TestEnvironment.ISA))
        .hasMessageContaining("There is no sign-in");
  }

  @Test
  void tokens_are_listed_without_what_they_are_and_revoked_by_their_own_or_an_administrator() {
    una();
    put("bo", null, PASSWORD);
    var una = environment.signIns.named("una").orElseThrow();
    var bo = environment.signIns.named("bo").orElseThrow();
    var token = token("una");
    assertThat(environment.tokens.list(bo)).isEmpty();
    var shown = environment.tokens.list(una).getFirst();
    assertThat(token).doesNotContain(shown.key());
    assertThat(environment.tokens.list(TestEnvironment.ISA)).containsExactly(shown);
    assertThatThrownBy(() -> environment.tokens.revoke(shown.key(), bo))
        .hasMessageContaining("You see no token");
    assertThatThrownBy(() -> environment.tokens.revoke(shown.key(), AUDITOR))
        .hasMessageContaining("may not");
    environment.tokens.revoke(shown.key(), una);
    assertThat(environment.tokens.actor(token)).isEmpty();
    assertThat(environment.happened("login:una")).endsWith("token-revoked");
  }

  @Test
  void whoever_is_missing_loses_it_for_good_with_the_feed() {
    environment.load(UNA, BO);
    put("bo", "W-2", PASSWORD);
    environment.load(UNA);
    assertThat(environment.happened("login:bo")).endsWith("sign-in-ended");
  }

  @Test
  void a_password_that_somebody_else_chose_must_be_changed_before_anything_else() {
    environment.signIns.put("una", "", "W-1", PASSWORD, false, List.of(), TestEnvironment.ISA);
    var first = signIn("una", PASSWORD);
    assertThat(first.mustChange()).isTrue();
    assertThatThrownBy(() ->
            environment.tokens.make(first, new Tokens.Wanted("x", Duration.ofDays(1), Set.of())))
        .hasMessageContaining("change it first");
    assertThatThrownBy(
            () -> environment.signIns.changePassword("una", "wrong", "skerry lights", HERE))
        .hasMessageContaining("do not belong together");
    assertThatThrownBy(() -> environment.signIns.changePassword("una", PASSWORD, PASSWORD, HERE))
        .hasMessageContaining("choose another");
    assertThatThrownBy(() -> environment.signIns.changePassword("una", PASSWORD, "short", HERE))
        .hasMessageContaining("10 characters");
    environment.signIns.changePassword("una", PASSWORD, "skerry lights", HERE);
    assertThat(environment.signIns.inSession("una", first.epoch())).isEmpty();
    refused("una", PASSWORD);
    assertThat(signIn("una", "skerry lights").mustChange()).isFalse();
    assertThat(environment.happened("login:una")).contains("password-changed", "sign-in-failed");
  }

  @Test
  void a_changed_password_ends_tokens_made_with_the_old_one() {
    una("auditor");
    var token = token("una");
    environment.signIns.changePassword("una", PASSWORD, "skerry lights", HERE);
    assertThat(environment.tokens.actor(token)).isEmpty();
  }

  @Test
  void a_token_may_carry_less_than_its_owner_and_never_more() {
    una("people-desk");
    var owner = signIn("una", PASSWORD);
    var wanted = Tokens.read(List.of("see-feeds", "read-ledger"));
    var token = environment.tokens.make(owner, new Tokens.Wanted("x", Duration.ofDays(1), wanted));
    var actor = environment.tokens.actor(token.token()).orElseThrow();
    assertThat(actor.may(Permission.SEE_FEEDS)).isTrue();
    assertThat(actor.may(Permission.LOAD_FEEDS)).isFalse();
    assertThat(actor.may(Permission.READ_LEDGER)).isFalse();
    assertThat(environment.tokens.list(owner.actor()).getFirst().permissions())
        .isEqualTo("read-ledger,see-feeds");
    assertThatThrownBy(() -> Tokens.read(List.of("everything")))
        .hasMessageContaining("There is no permission “everything”");
  }

  @Test
  void a_stranger_wears_out_their_own_attempts_and_locks_nobody_out() {
    una("auditor");
    signIn("una", PASSWORD);
    var elsewhere = "198.51.100.9";
    var told = "";
    for (var i = 0; i < 12; i++) {
      try {
        environment.signIns.signIn("una", "not the password", elsewhere);
      } catch (Refused refused) {
        told = String.valueOf(refused.getMessage());
      }
    }
    assertThat(told).contains("Too many attempts");
    assertThatThrownBy(() -> environment.signIns.signIn("una", PASSWORD, elsewhere))
        .as("the right password from there waits too")
        .hasMessageContaining("Too many attempts");
    assertThat(signIn("una", PASSWORD).actor().login()).isEqualTo("una");
    put("bo", null, PASSWORD);
    assertThat(environment.signIns.signIn("bo", PASSWORD, elsewhere).actor().login())
        .isEqualTo("bo");
  }

  @Test
  void many_addresses_together_are_slowed_down_too_but_not_where_somebody_signs_in() {
    una("auditor");
    signIn("una", PASSWORD);
    for (var i = 0; i < 40; i++) {
      try {
        environment.signIns.signIn("una", "not the password", "198.51.100." + i);
      } catch (Refused refused) {
        assertThat(refused.getMessage()).isNotEmpty();
      }
    }
    assertThatThrownBy(() -> environment.signIns.signIn("una", PASSWORD, "198.51.100.99"))
        .hasMessageContaining("Too many attempts");
    assertThat(signIn("una", PASSWORD).actor().login()).isEqualTo("una");
  }

  @Test
  void what_was_typed_for_a_name_that_nobody_has_is_kept_nowhere() {
    refused("harbour lights 1", "x");
    assertThat(
            environment.number(
                "select count(*) from ledger_entry where entry like '%harbour lights%' or subject like '%harbour lights%'"))
        .isZero();
    assertThat(environment.happened("login:")).containsExactly("sign-in-failed");
  }

  @Test
  void the_first_administrator_comes_back_where_there_is_none_any_more() {
    environment.signIns.first("admin", PASSWORD);
    environment.sql.update("update login set ended_at = now(6) where name = 'admin'");
    refused("admin", PASSWORD);
    environment.signIns.first("admin", PASSWORD);
    assertThat(signIn("admin", PASSWORD).actor().may(Permission.MANAGE_SIGN_INS)).isTrue();
  }

  @Test
  void an_auditor_sees_sign_ins_and_changes_none() {
    una();
    assertThat(environment.signIns.all(AUDITOR)).hasSize(1);
    assertThatThrownBy(() -> environment.signIns.takeAway("una", "x", AUDITOR))
        .isInstanceOf(Refused.class);
  }

  @Test
  void only_an_administrator_manages_them() {
    una();
    var actor = environment.signIns.named("una").orElseThrow();
    assertThatThrownBy(() -> environment.signIns.all(actor)).isInstanceOf(Refused.class);
  }
}
