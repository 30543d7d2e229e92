package glenmoor.core.erasure;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.erasure.Mentions.Term;
import java.util.List;
import org.junit.jupiter.api.Test;

class MentionsTest {
  private static Mentions of(String... terms) {
    return of(false, terms);
  }

  private static Mentions of(boolean onlyWhole, String... terms) {
    return new Mentions(
        List.of(terms).stream().map(each -> new Term(each, "W-3", onlyWhole)).toList());
  }

  private static String without(Mentions mentions, String text) {
    return mentions.without(text).orElse("(as it was)");
  }

  @Test
  void a_name_is_found_however_it_is_written_and_nothing_else_is_touched() {
    var emre = of("Emre Ó'Dála", "odalae");
    assertThat(without(emre, "May the account of Emre Ó'Dála be deleted?"))
        .isEqualTo("May the account of W-3 be deleted?");
    assertThat(without(emre, "EMRE Ó'DÁLA and emre o'dala")).isEqualTo("W-3 and W-3");
    assertThat(without(emre, "<p>Dear Emre Ó&#39;Dála,</p>")).isEqualTo("<p>Dear W-3,</p>");
    assertThat(without(emre, "uid=odalae,ou=westholm")).isEqualTo("uid=W-3,ou=westholm");
    assertThat(emre.without("Emre Ó'Dálasson, Femre Ó'Dála, odalae2 and Emre alone")).isEmpty();
    assertThat(emre.without("")).isEmpty();
  }

  @Test
  void an_address_goes_as_a_whole() {
    assertThat(
            without(
                of("vestj", "vestj@skerryline.example"), "{\"mail\":\"vestj@skerryline.example\"}"))
        .isEqualTo("{\"mail\":\"W-3\"}");
  }

  @Test
  void what_may_be_another_word_counts_only_where_it_is_a_value() {
    var grace = of(true, "grace");
    assertThat(without(grace, "grace")).isEqualTo("W-3");
    assertThat(without(grace, "{\"actor\":\"grace\",\"what\":\"the grace ends\"}"))
        .isEqualTo("{\"actor\":\"W-3\",\"what\":\"the grace ends\"}");
    assertThat(without(grace, "login:grace")).isEqualTo("login:W-3");
    assertThat(without(grace, "uid=grace,ou=westholm")).isEqualTo("uid=W-3,ou=westholm");
    assertThat(without(grace, "worker,account\r\nW-3,Grace\r\n"))
        .isEqualTo("worker,account\r\nW-3,W-3\r\n");
    for (var sentence : List.of("The grace ends.", "by grace", "grace is given", "with, grace, it"))
      assertThat(grace.without(sentence)).as(sentence).isEmpty();
  }

  @Test
  void letters_beyond_the_basic_plane_and_marks_do_not_upset_it() {
    assertThat(without(of("Zoë Tarn"), "𝒵 🦭 Zoë Tarn 🦭")).isEqualTo("𝒵 🦭 W-3 🦭");
    assertThat(of("Zoe Tarn").without("Zoe Tarn\u0301")).isEmpty();
    assertThat(of("!?").isEmpty()).isTrue();
  }
}
