package glenmoor.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SignInsTest extends InTheHouse {
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
    una("administrator", "auditor");
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
  void only_an_administrator_manages_them() {
    una();
    var actor = house.signIns.named("una").orElseThrow();
    assertThatThrownBy(() -> house.signIns.all(actor)).isInstanceOf(Refused.class);
  }
}
