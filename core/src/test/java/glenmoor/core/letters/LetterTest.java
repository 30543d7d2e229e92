package glenmoor.core.letters;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.people.Person;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Map;
import org.junit.jupiter.api.Test;

class LetterTest {
  private static final Expressions EXPRESSIONS = SkerryLine.catalogue().expressions();

  private static Letter.Written written(String subject, String body, Person about) {
    return new LetterValues(
            about, Map.of("directory", "kerrowu"), "Morag Linklater", "Una", TODAY, "1 task waits")
        .write(
            new Letter(
                "x", "X", Template.read(subject, EXPRESSIONS), Template.read(body, EXPRESSIONS)),
            EXPRESSIONS);
  }

  @Test
  void one_body_is_text_and_html() {
    var written =
        written(
            "To {{person.given}}",
            "Dear {{recipient.name}},\n\n*{{manager.name}}* waits for `{{accounts[\"directory\"]}}`.",
            una());
    assertThat(written.subject()).isEqualTo("To Una");
    assertThat(written.text()).contains("*Morag Linklater* waits for `kerrowu`.");
    assertThat(written.html())
        .isEqualTo(
            "<p>Dear Una,</p>\n<p><em>Morag Linklater</em> waits for <code>kerrowu</code>.</p>\n");
  }

  @Test
  void nothing_in_a_value_is_read_as_markdown_html_or_another_header() {
    var written =
        written(
            "{{person.given}}",
            "{{person.given}}",
            una("given", "<b>*Una*</b> [x](https://x.example)\r\nBcc: all@skerryline.example"));
    assertThat(written.subject()).doesNotContain("\n").doesNotContain("\r");
    assertThat(written.html())
        .contains("&lt;b&gt;*Una*&lt;/b&gt; [x](https://x.example) Bcc: all@")
        .doesNotContain("<a ")
        .doesNotContain("<em>");
  }

  @Test
  void a_subject_that_is_too_long_is_cut_between_two_characters() {
    for (var before : new String[] {"", "x"}) {
      var subject =
          written("{{person.given}}", "x", una("given", before + "⛵🦀".repeat(99))).subject();
      assertThat(subject).endsWith("…").hasSizeBetween(199, 200);
      assertThat(StandardCharsets.UTF_8.newEncoder().canEncode(subject)).isTrue();
    }
    assertThat(written("{{person.given}}", "x", una("given", "x".repeat(200))).subject())
        .isEqualTo("x".repeat(200));
  }

  @Test
  void a_value_that_looks_like_an_expression_is_none() {
    assertThat(written("x", "{{person.given}}", una("given", "{{passcode}}")).text())
        .isEqualTo("{{passcode}}");
    assertThat(written("x", "{{person.given}}", una("given", "a\uE000b")).text()).isEqualTo("ab");
  }

  @Test
  void dates_are_written_for_people_and_those_that_are_not_there_are_nothing() {
    var start = LocalDate.of(2027, 4, 1);
    assertThat(written("x", "{{written(person.start)}}", una("start", start)).text())
        .isEqualTo("1 April 2027");
    assertThat(written("x", "[{{written(person.end)}}]", una()).text()).isEqualTo("[]");
  }
}
