package glenmoor.engine.partners;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.letters.Sending;
import glenmoor.engine.lifecycle.EventService;
import glenmoor.engine.lifecycle.RecordForms;
import glenmoor.engine.requests.ApprovalService;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.GrantService;
import glenmoor.engine.requests.RequestViews;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.assertj.core.api.ThrowableAssert;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Partners who ask by a link, and people who count only once somebody agreed. */
class PartnersTest extends EngineTest {
  private static final String PARTNERS =
      """
      fact: mail
      ---
      fact: kind
      ---
      letters: post
      from: glenmoor@skerryline.example
      address: person.mail
      ---
      letter: confirm
      subject: Is this your address?
      body: |
        Dear {{recipient.name}}, you asked for {{work}}: {{link}}
      ---
      source: surveyors
      mode: changes
      form: yes
      numbers: P-
      ---
      source: guests
      mode: changes
      form: yes
      numbers: G-
      counts-by: be-here
      by-managers: yes
      ---
      portfolio: deck
      entitlements: [chartshare/charts, chartshare/drawings]
      ---
      package: survey
      name: Survey visitor
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      package: guest
      name: Guest pass
      entitlements: []
      ---
      route: sponsor
      stages:
      - ask: sponsor
        lapse: 6 days
      ---
      route: heads
      stages:
      - ask: managers-manager
        lapse: 6 days
      ---
      offer: survey
      package: survey
      portfolio: deck
      for: person.kind == "partner"
      asked-by: [person]
      route: sponsor
      term: 21 days
      reason: needed
      questions:
      - key: ship
        ask: Which ship?
      ---
      offer: be-here
      package: guest
      asked-by: [manager]
      route: heads
      reason: needed
      ---
      terms: house-rules
      name: House rules
      version: 2
      text: Touch nothing that floats.
      ---
      partner-organisation: lunna
      name: Lunna Hull Survey
      mail-domains: [lunna.example]
      until: 2027-12-31
      sponsor: W-1
      source: surveyors
      terms: house-rules
      letter: confirm
      offers: [survey]
      facts: {kind: partner, department: Partners, location: Hallow Quay}
      """;

  private static final Pattern KEY = Pattern.compile("confirm#([A-Za-z0-9_-]+)");
  private static final Actor UNA = new Actor("una", "Una", "W-1", List.of());
  private static final Actor BO = new Actor("bo", "Bo", "W-2", List.of());
  private static final Actor DESK =
      new Actor("desk", "Desk", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));

  private PartnerDoor door;
  private PartnerConfirming confirming;
  private Newcomers newcomers;
  private RecordForms forms;
  private ApprovalService approvals;

  @BeforeEach
  void an_organisation_whose_people_may_ask() {
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: person.department != \"\""),
        true);
    environment.define(PARTNERS, false);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.askers.put("desk", DESK);
    door = environment.get(PartnerDoor.class);
    confirming = environment.get(PartnerConfirming.class);
    newcomers = environment.get(Newcomers.class);
    forms = environment.get(RecordForms.class);
    approvals = environment.get(ApprovalService.class);
  }

  private static Said said(String mail) {
    return new Said(
        "Aino", "Kask", mail, "survey", Map.of("ship", "Selkie"), "the hull of the Selkie", 2);
  }

  /** Asks, and gives back what the letter's address ends with. */
  private String asked(Said said) {
    door.ask("lunna", said, "192.0.2.7");
    environment.get(Sending.class).carryOut();
    var text = environment.post.letters().getLast().text();
    var found = KEY.matcher(text);
    assertThat(found.find()).as(text).isTrue();
    return found.group(1);
  }

  private long waiting() {
    return environment.sql.queryForObject(
        "select id from request_line where state = 'open'", Long.class);
  }

  private static Decision decision(String word) {
    return new Decision(word, "as it is", null, "", "", null, "");
  }

  @Test
  void
      nothing_is_known_of_a_partner_before_they_confirm_and_nothing_given_before_it_is_agreed_to() {
    var key = asked(said("aino@lunna.example"));
    assertThat(environment.number("select count(*) from person where worker_number like 'P-%'"))
        .isZero();
    confirming.confirm(key);
    environment.agenda.sweep();
    environment.sent();
    assertThat(
            environment.number(
                "select count(*) from account a join person p on p.id = a.person_id where p.worker_number = 'P-00001'"))
        .as("nothing is made ready")
        .isZero();
    newcomers.carryOut();
    assertThat(starts("P-00001")).isEqualTo("2999-12-31");
    var waits = environment.people.show("P-00001", ISA);
    assertThat(waits.person().waits()).isTrue();
    assertThat(waits.person().startsOn()).as("nobody reads of a day that never comes").isNull();
    assertThat(waits.person().facts()).doesNotContainKey("start");
    assertThat(waits.facts()).noneMatch(fact -> fact.value().startsWith("2999"));
    assertThat(waits.standings()).noneMatch(span -> span.toString().contains("2999"));
    assertThat(began()).containsExactly((LocalDate) null);
    approvals.decide(waiting(), decision("approve"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(starts("P-00001")).isEqualTo("2027-03-01");
    assertThat(began()).contains(LocalDate.of(2027, 3, 1));
    var counts = environment.people.show("P-00001", ISA).person();
    assertThat(counts.waits()).isFalse();
    assertThat(counts.startsOn()).isEqualTo("2027-03-01");
    assertThat(environment.groups("P-00001")).contains("Slip drawings");
    assertThat(environment.get(RequestViews.class).show(request(), ISA).notes())
        .anyMatch(note -> note.text().contains("“House rules”, version 2"));
  }

  /** From when the events of the first partner count, the last one first. */
  private List<@Nullable LocalDate> began() {
    var search = new EventSearch(null, null, "P-00001", null, null, null, null, 9);
    return environment.events.search(search, ISA).stream()
        .<@Nullable LocalDate>map(EventService.Shown::effectiveOn)
        .toList();
  }

  private long request() {
    return environment.sql.queryForObject("select max(id) from request", Long.class);
  }

  private String starts(String worker) {
    return environment.sql.queryForObject(
        "select json_value(facts, '$.start') from person where worker_number = ?",
        String.class,
        worker);
  }

  private boolean isHere(String worker) {
    return environment.number(
            "select count(*) from account a join person p on p.id = a.person_id where a.state = 'enabled' and p.worker_number = '%s'"
                .formatted(worker))
        > 0;
  }

  @Test
  void nobody_is_here_for_longer_than_their_organisation() {
    confirming.confirm(asked(said("aino@lunna.example")));
    var ends = environment.get(OrganisationEnds.class);
    environment.define(PARTNERS.replace("until: 2027-12-31", "until: 2027-06-30"), false);
    assertThat(ends.carryOut()).as("who waits is nobody yet").isZero();
    approvals.decide(waiting(), decision("approve"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(lastDay("P-00001")).isEqualTo("2027-12-31");
    assertThat(ends.carryOut()).isOne();
    assertThat(lastDay("P-00001")).isEqualTo("2027-06-30");
    assertThat(ends.carryOut()).as("once is enough").isZero();
    // Somebody else's last day is nobody's matter here, and a later one extends nobody.
    environment.define(PARTNERS.replace("until: 2027-12-31", "until: 2028-06-30"), false);
    assertThat(ends.carryOut()).isZero();
    assertThat(lastDay("P-00001")).isEqualTo("2027-06-30");
    environment.define(PARTNERS.replace("until: 2027-12-31", "until: 2027-02-28"), false);
    ends.carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(isHere("P-00001")).as("it is over already").isFalse();
    assertThat(isHere("W-2")).isTrue();
  }

  private String lastDay(String worker) {
    return environment.sql.queryForObject(
        "select coalesce(ends_on, '') from person where worker_number = ?", String.class, worker);
  }

  @Test
  void a_partner_who_is_declined_never_came() {
    confirming.confirm(asked(said("aino@lunna.example")));
    approvals.decide(waiting(), decision("decline"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    assertThat(isHere("P-00001")).isFalse();
    assertThat(
            environment.number(
                "select count(*) from event e join person p on p.id = e.person_id where p.worker_number = 'P-00001' and e.kind = 'no-show'"))
        .isOne();
    // They may ask again, as the same person.
    confirming.confirm(asked(said("aino@lunna.example")));
    approvals.decide(waiting(), decision("approve"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(isHere("P-00001")).isTrue();
    assertThat(environment.number("select count(*) from person where worker_number like 'P-%'"))
        .isOne();
  }

  @Test
  void a_link_used_twice_asks_once_and_one_that_is_forged_or_late_leads_nowhere() {
    var key = asked(said("aino@lunna.example"));
    confirming.confirm(key);
    confirming.confirm(key);
    assertThat(environment.number("select count(*) from request")).isOne();
    assertThat(environment.number("select count(*) from person where worker_number like 'P-%'"))
        .isOne();
    for (var wrong : List.of("", "x", key + "x", key.substring(1))) {
      assertThatThrownBy(() -> confirming.confirm(wrong)).isInstanceOf(Refused.class);
    }
    var late = asked(said("late@lunna.example"));
    environment.at("2027-03-04T08:00:00Z");
    assertThatThrownBy(() -> confirming.confirm(late))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("time is over");
    assertThat(environment.sql.queryForList("select key_hash from partner_ask", byte[].class))
        .noneMatch(hash -> new String(hash, StandardCharsets.UTF_8).equals(key));
    assertThat(
            environment.number(
                "select count(*) from message where body like '%%%s%%' or html like '%%%s%%'"
                    .formatted(key, key)))
        .as("the key stands in no table")
        .isZero();
  }

  @Test
  void who_is_of_another_organisation_or_accepts_nothing_is_told_what_is_wrong() {
    for (var mail :
        List.of(
            "aino@elsewhere.example",
            "aino@lunna.example.elsewhere.example",
            "aino@xlunna.example",
            "lunna.example",
            "a b@lunna.example",
            "x@y@lunna.example",
            "aino@lunna.example\r\nBcc: all@lunna.example")) {
      wrong(said(mail), "mail");
    }
    wrong(
        new Said("Aino", "", "a@lunna.example", "survey", Map.of("ship", "Selkie"), "why", 1),
        "acceptedVersion");
    wrong(new Said("Aino", "", "a@lunna.example", "be-here", Map.of(), "why", 2), "offer");
    wrong(new Said("Aino", "", "a@lunna.example", "survey", Map.of(), "why", 2), "answers/ship");
    wrong(
        new Said("Aino", "", "a@lunna.example", "survey", Map.of("ship", "Selkie"), " ", 2),
        "reason");
    wrong(new Said(" ", "", "a@lunna.example", "survey", Map.of("ship", "x"), "why", 2), "given");
    assertThat(environment.number("select count(*) from partner_ask")).isZero();
    assertThat(environment.number("select count(*) from message")).isZero();
    assertThatThrownBy(() -> door.welcome("nowhere")).isInstanceOf(Refused.class);
    environment.at("2028-01-01T08:00:00Z");
    assertThatThrownBy(() -> door.welcome("lunna"))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("nowhere any more");
  }

  private void wrong(Said said, String field) {
    assertThatThrownBy(() -> door.ask("lunna", said, "192.0.2." + said.hashCode() % 250))
        .isInstanceOfSatisfying(
            Refused.class,
            refused ->
                assertThat(refused.mistakes())
                    .as(refused.getMessage())
                    .anyMatch(each -> each.pointer().equals("/" + field)));
  }

  @Test
  void letters_are_not_written_without_end() {
    for (var i = 0; i < 3; i++) {
      door.ask("lunna", said("aino@lunna.example"), "192.0.2." + i);
    }
    assertThatThrownBy(() -> door.ask("lunna", said("aino@lunna.example"), "192.0.2.9"))
        .isInstanceOfSatisfying(
            Refused.class,
            refused -> assertThat(refused.reason()).isEqualTo(Refused.Reason.TOO_MANY));
    door.ask("lunna", said("other@lunna.example"), "192.0.2.9");
  }

  @Test
  void what_was_never_confirmed_is_forgotten() {
    asked(said("aino@lunna.example"));
    environment.at("2027-03-04T08:00:00Z");
    confirming.recurring().getFirst().work().run();
    assertThat(environment.number("select count(*) from partner_ask")).isZero();
  }

  // ---- written by hand

  private static final Map<String, String> GUEST =
      Map.of("given", "Signe", "family", "Ness", "manager", "W-2", "department", "Shipyard");

  @Test
  void whom_a_manager_writes_counts_once_somebody_above_them_agrees() {
    var entered = forms.write("guests", "", GUEST, "a week at the yard", BO);
    assertThat(entered.waits()).isTrue();
    environment.agenda.sweep();
    assertThat(isHere(entered.worker())).isFalse();
    assertThatThrownBy(() -> approvals.decide(waiting(), decision("approve"), BO))
        .as("not who asks")
        .isInstanceOf(Refused.class);
    approvals.decide(waiting(), decision("approve"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(starts(entered.worker())).isEqualTo("2027-03-01");
    assertThat(isHere(entered.worker())).isTrue();
    assertThatThrownBy(() -> forms.write("guests", entered.worker(), GUEST, "more", BO))
        .as("a manager changes nobody afterwards")
        .isInstanceOf(Refused.class);
  }

  @Test
  void a_manager_writes_of_nobody_else_and_reads_of_nobody_else() {
    refused(() -> forms.write("guests", "", with("manager", "W-1"), "why", BO));
    refused(() -> forms.write("surveyors", "", GUEST, "why", BO));
    refused(() -> forms.show("surveyors", "P-1", BO));
    var una = forms.write("guests", "", with("manager", "W-1"), "why", DESK);
    refused(() -> forms.show("guests", una.worker(), BO));
    refused(() -> forms.write("guests", una.worker(), GUEST, "why", BO));
    refused(() -> forms.write("guests", "W-1", GUEST, "why", BO));
    assertThat(forms.forms(BO))
        .singleElement()
        .satisfies(each -> assertThat(each.source()).isEqualTo("guests"));
    assertThat(forms.forms(new Actor("nobody", "Nobody", null, List.of()))).isEmpty();
  }

  private static Map<String, String> with(String fact, String value) {
    var facts = new HashMap<>(GUEST);
    facts.put(fact, value);
    return facts;
  }

  private static void refused(ThrowableAssert.ThrowingCallable call) {
    assertThatThrownBy(call).isInstanceOf(Refused.class);
  }

  @Test
  void nothing_goes_around_the_agreement() {
    var entered = forms.write("guests", "", GUEST, "why", BO);
    // Neither another first day, nor a file.
    var again = forms.write("guests", entered.worker(), with("start", "2027-03-01"), "", DESK);
    assertThat(again.waits()).isTrue();
    assertThat(starts(entered.worker())).isEqualTo("2999-12-31");
    assertThat(forms.show("guests", entered.worker(), DESK).facts())
        .containsEntry("start", "2027-03-01");
    refused(() -> environment.loadFrom("guests", "worker,given,start\r\nG-9,Eve,2027-01-01\r\n"));
    approvals.decide(waiting(), decision("decline"), UNA);
    newcomers.carryOut();
    environment.agenda.sweep();
    assertThat(isHere(entered.worker())).isFalse();
    // Whoever was declined is asked for anew.
    assertThat(forms.write("guests", entered.worker(), GUEST, "once more", DESK).waits()).isTrue();
    assertThat(starts(entered.worker())).isEqualTo("2999-12-31");
  }

  @Test
  void who_cannot_be_asked_for_never_counts() {
    environment.define(
        """
        offer: be-here
        package: guest
        asked-by: [manager]
        for: person.department == "Deck"
        route: heads
        reason: needed
        """,
        false);
    refused(() -> forms.write("guests", "", GUEST, "why", BO));
    environment.agenda.sweep();
    assertThat(starts("G-00001")).isNotEqualTo("2999-12-31");
    assertThat(isHere("G-00001")).isFalse();
  }

  @Test
  void a_lapsed_ask_leaves_nobody() {
    var entered = forms.write("guests", "", GUEST, "why", BO);
    environment.at("2027-03-09T08:00:00Z");
    newcomers.carryOut();
    environment.agenda.sweep();
    assertThat(isHere(entered.worker())).isFalse();
    assertThat(environment.number("select count(*) from newcomer where state = 'does-not'"))
        .isOne();
    assertThat(environment.get(GrantService.class).of(entered.worker(), ISA)).isEmpty();
  }

  @Test
  void mistakes_in_an_organisation_are_said() {
    for (var wrong :
        Map.of(
                "mail-domains: [lunna.example]", "mail-domains: [not a domain]",
                "until: 2027-12-31", "until: soon",
                "source: surveyors\nterms", "source: people-office\nterms",
                "terms: house-rules\nletter", "terms: nothing\nletter",
                "offers: [survey]", "offers: [be-here]",
                "letter: confirm\noffers", "letter: nothing\noffers",
                "facts: {kind", "facts: {start: x, kind")
            .entrySet()) {
      var text = PARTNERS.substring(PARTNERS.indexOf("partner-organisation"));
      assertThat(text).contains(wrong.getKey());
      assertThatThrownBy(
              () -> environment.define(text.replace(wrong.getKey(), wrong.getValue()), false))
          .as(wrong.getValue())
          .isInstanceOf(Refused.class);
    }
    assertThatThrownBy(() ->
            environment.define("source: x\nmode: changes\nform: yes\nby-managers: yes", false))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(() ->
            environment.define("source: x\nmode: changes\nform: yes\ncounts-by: nothing", false))
        .isInstanceOf(Refused.class);
  }
}
