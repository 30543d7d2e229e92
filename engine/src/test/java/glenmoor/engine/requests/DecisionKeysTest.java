package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.letters.MessageService;
import glenmoor.engine.letters.Sending;
import glenmoor.engine.requests.RequestService.NewLine;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Whoever is led from a letter or a chat decides once, as who they are, and only that. */
class DecisionKeysTest extends EngineTest {
  private static final String ASKING =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: person.worker + "@skerryline.example"
      ---
      channel: harbour-chat
      kind: chat
      url: ${DESK_URL}
      secret-file: token
      ---
      letter: ask-waits
      subject: You are asked
      body: |
        {{work}} Decide [here]({{link}}).
      ---
      package: drawer
      entitlements: [chartshare/drawings]
      ---
      route: manager
      asked-letter: ask-waits
      asked-chat: harbour-chat
      stages: [{ask: line-manager, lapse: 5 days, nudge: 2 days}]
      ---
      offer: drawer
      package: drawer
      asked-by: [person, manager]
      route: manager
      term: 20 days
      ending-letter: ends
      reason: optional
      ---
      letter: ends
      subject: It ends
      body: |
        {{work}}
      """;

  private static final Actor TAM = new Actor("tam", "Tam", "W-10", List.of());
  private static final Pattern LINK =
      Pattern.compile("https://glenmoor.skerryline.example/decide#([A-Za-z0-9_-]+)");

  private RequestService requests;
  private DecisionKeys keys;
  private ChatDecisions chats;
  private RequestViews views;
  private long request;

  @BeforeEach
  void somebody_asks() {
    environment.define(ASKING, false);
    environment.load(
        "W-10,Tam,Briain,Deck,Westholm,W-11,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,,2020-01-01,,,",
        "W-12,Other,Sow,Bridge,Tarn Point,,2020-01-01,,,");
    environment.sent();
    requests = environment.get(RequestService.class);
    keys = environment.get(DecisionKeys.class);
    chats = environment.get(ChatDecisions.class);
    views = environment.get(RequestViews.class);
    request =
        requests.submit(
            List.of(new NewLine("drawer", "", "", null, null, Map.of(), "", null)), "", TAM);
    environment.get(Sending.class).carryOut();
  }

  private String state() {
    return views.show(request, ISA).lines().getFirst().state();
  }

  private String fromLetter() {
    var text = environment.post.letters().getLast().text();
    var link = LINK.matcher(text);
    assertThat(link.find()).as(text).isTrue();
    return link.group(1);
  }

  private String fromChat() {
    var said = environment.desk.heard().getLast().path("data");
    assertThat(said.path("to").asText()).isEqualTo("W-11");
    return said.path("key").asText();
  }

  @Test
  void a_letter_leads_its_reader_to_one_decision_that_is_taken_once() {
    var key = fromLetter();
    assertThat(keys.look(key).approver()).isEqualTo("Mate Halcro");
    assertThat(keys.look(key).line().name()).isEqualTo("drawer");
    keys.decide(key, "approve", "");
    assertThat(state()).isEqualTo("approved");
    assertThatThrownBy(() -> keys.decide(key, "decline", "no"))
        .hasMessageContaining("leads nowhere");
    assertThatThrownBy(() -> keys.look(key)).hasMessageContaining("leads nowhere");
  }

  @Test
  void a_week_before_it_ends_that_is_told_once() {
    keys.decide(fromLetter(), "approve", "");
    environment.at("2027-03-12T06:00:00Z");
    assertThat(ending()).isEmpty();
    environment.at("2027-03-19T06:00:00Z");
    environment.get(Sending.class).carryOut();
    assertThat(ending()).singleElement().asString().contains("“drawer” ends on 21 Mar 2027");
  }

  private List<String> ending() {
    return environment.post.letters().stream()
        .filter(letter -> letter.subject().equals("It ends"))
        .map(letter -> letter.text())
        .toList();
  }

  @Test
  void nobody_who_reads_letters_here_learns_the_key() {
    var key = fromLetter();
    var messages = environment.get(MessageService.class);
    assertThat(
            environment.sql.queryForList(
                "select concat(body, html, sealed) from message", String.class))
        .noneMatch(text -> text.contains(key));
    assertThat(environment.sql.queryForList("select hex(key_hash) from decision_key", String.class))
        .noneMatch(text -> text.equalsIgnoreCase(key));
    assertThat(messages).isNotNull();
  }

  @Test
  void a_forged_one_leads_nowhere_and_neither_does_one_whose_time_is_over() {
    for (var wrong : List.of("", "x", fromLetter() + "x", "a".repeat(5_000))) {
      assertThatThrownBy(() -> keys.decide(wrong, "approve", ""))
          .isInstanceOf(Refused.class)
          .hasMessageContaining("leads nowhere");
    }
    var key = fromLetter();
    environment.at("2027-03-07T06:00:00Z");
    assertThatThrownBy(() -> keys.decide(key, "approve", "")).hasMessageContaining("leads nowhere");
    assertThat(state()).isEqualTo("lapsed");
  }

  @Test
  void only_those_whose_time_is_over_are_forgotten() {
    var key = fromLetter();
    var forget = keys.recurring().getFirst().work();
    forget.run();
    assertThat(keys.look(key).approver()).isEqualTo("Mate Halcro");
    environment.at("2027-03-07T06:00:00Z");
    forget.run();
    assertThat(environment.sql.queryForObject("select count(*) from decision_key", Integer.class))
        .isZero();
  }

  @Test
  void what_its_person_may_not_decide_any_more_cannot_be_decided_with_it() {
    var key = fromLetter();
    environment.load(
        "W-10,Tam,Briain,Deck,Westholm,W-12,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,,2020-01-01,,,",
        "W-12,Other,Sow,Bridge,Tarn Point,,2020-01-01,,,");
    assertThatThrownBy(() -> keys.decide(key, "approve", "")).isInstanceOf(Refused.class);
    assertThat(state()).isEqualTo("open");
  }

  @Test
  void a_button_is_pressed_by_whom_the_chat_says_and_for_nobody_else() {
    var key = fromChat();
    assertThatThrownBy(() -> chats.take(new ChatDecisions.Pressed(key, "W-12", "approve", "")))
        .hasMessageContaining("leads nowhere");
    assertThatThrownBy(() -> chats.take(new ChatDecisions.Pressed(key, "", "approve", "")))
        .hasMessageContaining("leads nowhere");
    assertThatThrownBy(() -> chats.take(new ChatDecisions.Pressed(key, "W-11", "hold", "")))
        .hasMessageContaining("approve or decline");
    assertThatThrownBy(() -> chats.isFrom("harbour-chat", "1", "1", "v1,AAAA", "{}"))
        .hasMessageContaining("signature");
    assertThatThrownBy(() -> chats.isFrom("nowhere", "1", "1", "v1,AAAA", "{}"))
        .hasMessageContaining("signature");
    chats.take(new ChatDecisions.Pressed(key, "w-11", "approve", ""));
    assertThat(state()).isEqualTo("approved");
    assertThatThrownBy(() -> chats.take(new ChatDecisions.Pressed(key, "W-11", "approve", "")))
        .hasMessageContaining("leads nowhere");
  }
}
