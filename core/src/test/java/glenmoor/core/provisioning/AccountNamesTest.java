package glenmoor.core.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import org.junit.jupiter.api.Test;

class AccountNamesTest {
  private final glenmoor.core.applications.Application directory =
      SkerryLine.catalogue().application("directory");

  @Test
  void names_are_compared_without_case_or_width() {
    var names = Names.with("KerrowU", 1);
    assertThat(names.next(directory, "ｋerrowu").name()).isEqualTo("ｋerrowu2");
  }

  @Test
  void a_name_too_long_is_cut_before_its_number() {
    assertThat(AccountNames.numbered("abcdefghij", 1, 8)).isEqualTo("abcdefgh");
    assertThat(AccountNames.numbered("abcdefghij", 12, 8)).isEqualTo("abcdef12");
    assertThat(AccountNames.numbered("abc", 2, 8)).isEqualTo("abc2");
  }

  @Test
  void the_number_of_an_address_stands_before_the_at_sign() {
    assertThat(AccountNames.numbered("una@skerryline.example", 2, 60))
        .isEqualTo("una2@skerryline.example");
  }

  @Test
  void a_reserved_name_is_nobodys_and_gets_a_number() {
    assertThat(Names.free().next(directory, "Root").name()).isEqualTo("Root2");
    assertThat(Names.free().next(directory, "postmaster@skerryline.example").name())
        .isEqualTo("postmaster2@skerryline.example");
    assertThat(Names.free().next(directory, "rooth").name()).isEqualTo("rooth");
  }

  @Test
  void a_name_is_an_accounts_own_only_while_nobody_else_has_it() {
    assertThat(Names.with("una", 7).isFor(directory, "Una", 7)).isTrue();
    assertThat(Names.with("una", 8).isFor(directory, "una", 7)).isFalse();
    assertThat(Names.free().isFor(directory, "una", 7)).isTrue();
  }
}
