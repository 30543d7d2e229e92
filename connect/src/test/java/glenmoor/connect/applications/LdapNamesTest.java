package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.unboundid.ldap.sdk.DN;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class LdapNamesTest {
  private static final String BASE = "ou=People,dc=skerryline,dc=example";

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "uid=una,ou=people,dc=skerryline,dc=example | ''",
        "uid=una,ou=deck,ou=people,dc=skerryline,dc=example | ou=deck",
        "uid=una,ou=a,ou=b,ou=people,dc=skerryline,dc=example | ou=a,ou=b",
        "uid=Una,ou=Deck,ou=People,dc=SkerryLine,dc=example | ou=Deck",
        "uid=una, ou=deck, ou=people, dc=skerryline, dc=example | ou=deck",
        "cn=Kerrow\\, Una,ou=deck,ou=people,dc=skerryline,dc=example | ou=deck",
      })
  void an_entry_stands_below_the_base(String dn, String container) throws Exception {
    var name = LdapNames.of(BASE).below(dn);
    assertThat(name.normal()).isEqualTo(DN.normalize(dn));
    assertThat(name.container()).isEqualTo(container);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "uid=una,ou=people,dc=skerryline,dc=example",
        "uid=una-k.2,ou=people,dc=skerryline,dc=example",
        "UID=Una,OU=People,DC=skerryline,DC=example",
        "uid=una\\20k,ou=people,dc=skerryline,dc=example",
        "cn=b+uid=a,ou=people,dc=skerryline,dc=example",
        "cn=una  kerrow,ou=people,dc=skerryline,dc=example",
        "cn=Ångström,ou=people,dc=skerryline,dc=example",
      })
  void a_name_is_in_its_normal_form(String dn) throws Exception {
    assertThat(LdapNames.normal(dn)).isEqualTo(DN.normalize(dn));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "Una Kerrow",
        "una",
        "una,ou=people,dc=skerryline,dc=example",
        "uid=una,people,dc=skerryline,dc=example",
        "uid=una,ou=people,",
        "=una,ou=people",
      })
  void what_is_no_name_is_not_read_as_one(String text) {
    assertThatThrownBy(() -> LdapNames.normal(text)).isInstanceOf(Connector.CannotRead.class);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "una,ou=people,dc=skerryline,dc=example",
        "uid,ou=people,dc=skerryline,dc=example"
      })
  void what_is_no_name_stands_nowhere(String text) {
    assertThatThrownBy(() -> LdapNames.of(BASE).below(text))
        .isInstanceOf(Connector.CannotRead.class);
  }
}
