package glenmoor.engine.people;

import static glenmoor.engine.House.BO;
import static glenmoor.engine.House.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SignInsTest extends InTheHouse {
  private static final Actor AUDITOR = new Actor("eva", "Eva Holm", null, Set.of(Duty.AUDITOR));
  private static final String PASSWORD = "harbour lights";

  @BeforeEach
  void load() {
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
  }

  private void una(String... duties) {
    house.signIns.put("una", "", "W-1", PASSWORD, List.of(duties), House.ISA);
  }

  @Test
  void a_sign_in_is_the_person_with_their_duties() {
    una("people-desk");
    var actor = house.signIns.withPassword("una", PASSWORD).orElseThrow();
    assertThat(actor.displayName()).isEqualTo("Una Kerrow");
    assertThat(actor.worker()).isEqualTo("W-1");
    assertThat(actor.duties()).isEqualTo(Set.of(Duty.PEOPLE_DESK));
  }

  @Test
  void neither_a_wrong_password_nor_an_unknown_name_signs_in() {
    una();
    assertThat(house.signIns.withPassword("una", PASSWORD + " ")).isEmpty();
    assertThat(house.signIns.withPassword("nobody", "nobody has this password")).isEmpty();
  }

  @Test
  void a_password_is_kept_only_as_its_argon2id_hash() {
    una();
    assertThat(house.sql.queryForObject("select password_hash from login", String.class))
        .startsWith("$argon2id$");
  }

  @Test
  void a_token_stands_for_its_maker_until_it_expires() {
    una("auditor");
    var una = house.signIns.named("una").orElseThrow();
    var token = house.signIns.makeToken("laptop", Duration.ofDays(1), una);
    assertThat(house.signIns.withToken(token.token())).contains(una);
    assertThat(house.signIns.withToken(token.token() + "x")).isEmpty();
    assertThat(house.sql.queryForObject("select hex(token_hash) from service_token", String.class))
        .doesNotContain(token.token());
    var past = house.signIns.makeToken("old", Duration.ofSeconds(-1), una);
    assertThat(house.signIns.withToken(past.token())).isEmpty();
  }

  @Test
  void duties_given_anew_take_the_place_of_those_before() {
    una("auditor");
    una("people-desk");
    assertThat(house.signIns.all(House.ISA).getFirst().duties()).containsExactly("people-desk");
    assertThat(house.happened("login:una")).containsExactly("sign-in-set", "sign-in-set");
  }

  @Test
  void what_cannot_be_a_sign_in_is_refused_with_what_is_wrong() {
    assertThatThrownBy(() -> house.signIns.put("Una!", "", "W-1", PASSWORD, List.of(), House.ISA))
        .hasMessageContaining("Una!");
    assertThatThrownBy(() -> house.signIns.put("una", "", "W-1", "short", List.of(), House.ISA))
        .hasMessageContaining("10 characters");
    assertThatThrownBy(() -> house.signIns.put("una", "", "W-77", PASSWORD, List.of(), House.ISA))
        .hasMessageContaining("W-77");
    assertThatThrownBy(() -> una("captain")).hasMessageContaining("captain");
    assertThat(house.signIns.all(House.ISA)).isEmpty();
  }

  @Test
  void the_first_administrator_is_made_once() {
    house.signIns.first("admin", PASSWORD);
    house.signIns.first("admin", "another password");
    assertThat(house.signIns.withPassword("admin", PASSWORD)).isPresent();
    assertThat(house.signIns.all(House.ISA)).hasSize(1);
  }

  @Test
  void a_leaver_can_neither_sign_in_nor_go_on_from_the_day_on_which_they_have_left() {
    una("people-desk");
    var epoch = house.signIns.epoch("una");
    var una = house.signIns.named("una").orElseThrow();
    var token = house.signIns.makeToken("laptop", Duration.ofDays(9), una).token();
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    assertThat(house.signIns.inSession("una", epoch)).as("the last day is one").isPresent();
    house.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    assertThat(house.signIns.inSession("una", epoch)).isEmpty();
    assertThat(house.signIns.withToken(token)).isEmpty();
    assertThat(house.signIns.withPassword("una", PASSWORD)).isEmpty();
  }

  @Test
  void somebody_who_is_missing_from_a_full_feed_loses_it_at_once() {
    house.load(UNA, BO);
    house.signIns.put("bo", "", "W-2", PASSWORD, List.of(), House.ISA);
    house.load(UNA);
    assertThat(house.signIns.withPassword("bo", PASSWORD)).isEmpty();
  }

  @Test
  void what_ended_with_a_leaver_does_not_come_back_with_a_rehire() {
    una("auditor");
    var epoch = house.signIns.epoch("una");
    var una = house.signIns.named("una").orElseThrow();
    var token = house.signIns.makeToken("laptop", Duration.ofDays(9), una).token();
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-01,,");
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(house.signIns.withToken(token)).isEmpty();
    assertThat(house.signIns.inSession("una", epoch)).isEmpty();
    assertThat(house.signIns.withPassword("una", PASSWORD)).isEmpty();
    assertThat(house.happened("login:una"))
        .containsExactly("sign-in-set", "token-made", "sign-in-ended");
    assertThat(house.signIns.all(House.ISA).getFirst().endReason()).isEqualTo("left");
    una("auditor");
    assertThat(house.signIns.withPassword("una", PASSWORD)).isPresent();
    assertThat(house.signIns.withToken(token)).as("a token stays revoked").isEmpty();
  }

  @Test
  void a_feed_that_brings_back_who_left_by_the_calendar_gives_no_sign_in_back() {
    una("auditor");
    var epoch = house.signIns.epoch("una");
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    house.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(house.signIns.inSession("una", epoch)).isEmpty();
    assertThat(house.signIns.withPassword("una", PASSWORD)).isEmpty();
  }

  @Test
  void the_end_of_a_leaver_s_sign_in_is_written_once() {
    una("auditor");
    house.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-02,,");
    house.clock.moveTo(Instant.parse("2027-03-03T00:00:01Z"));
    house.signIns.endLeavers();
    house.signIns.endLeavers();
    assertThat(house.happened("login:una")).containsExactly("sign-in-set", "sign-in-ended");
  }

  @Test
  void another_password_ends_sessions_and_tokens() {
    una("auditor");
    var epoch = house.signIns.epoch("una");
    var una = house.signIns.named("una").orElseThrow();
    var token = house.signIns.makeToken("laptop", Duration.ofDays(9), una).token();
    assertThat(house.signIns.inSession("una", epoch)).contains(una);
    house.signIns.put("una", "", "W-1", "another password", List.of("auditor"), House.ISA);
    assertThat(house.signIns.inSession("una", epoch)).isEmpty();
    assertThat(house.signIns.withToken(token)).isEmpty();
    assertThat(house.signIns.inSession("una", house.signIns.epoch("una"))).contains(una);
  }

  @Test
  void a_sign_in_is_taken_away_with_a_reason_but_never_the_last_administrators() {
    una("administrator");
    assertThatThrownBy(() -> house.signIns.takeAway("una", "why not", House.ISA))
        .hasMessageContaining("last administrator");
    assertThatThrownBy(() -> una("auditor")).hasMessageContaining("last administrator");
    house.signIns.put("spare", "Spare", null, PASSWORD, List.of("administrator"), House.ISA);
    assertThatThrownBy(() -> house.signIns.takeAway("una", " ", House.ISA))
        .hasMessageContaining("Say why");
    assertThat(house.signIns.takeAway("una", "lost her phone", House.ISA).endReason())
        .isEqualTo("lost her phone");
    assertThat(house.signIns.withPassword("una", PASSWORD)).isEmpty();
    assertThatThrownBy(() -> house.signIns.takeAway("spare", "x", House.ISA))
        .hasMessageContaining("last administrator");
    assertThatThrownBy(() -> house.signIns.takeAway("nobody", "x", House.ISA))
        .hasMessageContaining("There is no sign-in");
  }

  @Test
  void tokens_are_listed_without_what_they_are_and_revoked_by_their_own_or_an_administrator() {
    una();
    house.signIns.put("bo", "Bo", null, PASSWORD, List.of(), House.ISA);
    var una = house.signIns.named("una").orElseThrow();
    var bo = house.signIns.named("bo").orElseThrow();
    var token = house.signIns.makeToken("laptop", Duration.ofDays(9), una).token();
    assertThat(house.signIns.tokens(bo)).isEmpty();
    var shown = house.signIns.tokens(una).getFirst();
    assertThat(token).doesNotContain(shown.key());
    assertThat(house.signIns.tokens(House.ISA)).containsExactly(shown);
    assertThatThrownBy(() -> house.signIns.revokeToken(shown.key(), bo))
        .hasMessageContaining("You see no token");
    assertThatThrownBy(() -> house.signIns.revokeToken(shown.key(), AUDITOR))
        .hasMessageContaining("may not");
    house.signIns.revokeToken(shown.key(), una);
    assertThat(house.signIns.withToken(token)).isEmpty();
    assertThat(house.happened("login:una")).endsWith("token-revoked");
  }

  @Test
  void an_auditor_sees_sign_ins_and_changes_none() {
    una();
    assertThat(house.signIns.all(AUDITOR)).hasSize(1);
    assertThatThrownBy(() -> house.signIns.takeAway("una", "x", AUDITOR))
        .isInstanceOf(Refused.class);
  }

  @Test
  void only_an_administrator_manages_them() {
    una();
    var actor = house.signIns.named("una").orElseThrow();
    assertThatThrownBy(() -> house.signIns.all(actor)).isInstanceOf(Refused.class);
  }
}
