package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.letters.Sending;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.requests.RequestViews.LineShown;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * A route of three stages, two of them side by side, moved day by day: who is asked, reminded,
 * joins in, steps in and is passed on to, as the mail server has it.
 */
class ThreeStagesTest extends EngineTest {
  private static final String ROUTE =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: person.worker + "@skerryline.example"
      ---
      letter: asked
      subject: "{{work}}"
      body: "{{work}}"
      ---
      letter: settled
      subject: "{{work}}"
      body: "{{work}}"
      ---
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      team: office
      members: [W-16, W-17]
      ---
      package: drawer
      name: Drawer
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      route: long
      asked-letter: asked
      settled-letter: settled
      stages:
      - ask: line-manager
        nudge: 2 days
        lapse: 5 days
        on-to: managers-manager
      - ask: team office
        agree: all
        nudge: 2 days
        standby: person W-20
        standby-from: 4 days
        lapse: 8 days
      - ask: stewards
        beside: yes
        nudge: 6 days
        lapse: 8 days
      - ask: person W-15
        nudge: 3 days
        lapse: 6 days
      ---
      offer: drawer
      package: drawer
      portfolio: deck
      route: long
      reason: optional
      """;

  private static final String[] CREW = {
    "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,",
    "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
    "W-12,Captain,Sow,Bridge,Tarn Point,,2020-01-01,,,",
    "W-14,Steward,Fjeld,Bridge,Tarn Point,W-12,2020-01-01,,,",
    "W-15,Last,Word,Bridge,Tarn Point,W-12,2020-01-01,,,",
    "W-16,Gone,Soon,Office,Tarn Point,W-12,2020-01-01,,,",
    "W-17,Away,Now,Office,Tarn Point,W-12,2020-01-01,,,",
    "W-18,Deputy,Reed,Office,Tarn Point,W-12,2020-01-01,,,",
    "W-19,Passed,Onto,Office,Tarn Point,W-12,2020-01-01,,,",
    "W-20,Standby,Oar,Office,Tarn Point,W-12,2020-01-01,,,"
  };

  private RequestService requests;
  private ApprovalService approvals;
  private RequestViews views;
  private long request;
  private int read;

  private static Actor person(String worker) {
    return new Actor(worker, worker, worker, List.of());
  }

  @BeforeEach
  void somebody_asks() {
    environment.define(ROUTE, false);
    environment.load(CREW);
    environment.sent();
    environment.signIns.put(
        "steward",
        "",
        "W-14",
        "a long enough password",
        true,
        List.of(new Assignment(Duty.STEWARD, Scope.portfolio("deck"), null, null)),
        ISA);
    requests = environment.get(RequestService.class);
    approvals = environment.get(ApprovalService.class);
    views = environment.get(RequestViews.class);
    environment
        .get(AwayPeriods.class)
        .add(
            "W-17",
            "W-18",
            LocalDate.parse("2027-03-01"),
            LocalDate.parse("2027-04-30"),
            person("W-17"));
    request =
        requests.submit(
            List.of(new NewLine("drawer", "", "", null, null, Map.of(), "", null)),
            "",
            person("W-10"));
  }

  private LineShown line() {
    return views.show(request, ISA).lines().getFirst();
  }

  private void decides(String worker, String word, @Nullable LocalDate until, String to) {
    approvals.decide(
        line().id(), new Decision(word, "as it is", until, to, "", null, ""), person(worker));
  }

  /**
   * In the morning of a day; later, for a day that is counted from a decision of such a morning.
   */
  private void day(int day, int hour) {
    environment.at("2027-03-%02dT%02d:00:00Z".formatted(day, hour));
    environment.get(LinesDue.class).carryOut();
  }

  /** What the mail server has got since it was looked at last: to whom, and what. */
  private List<String> letters() {
    environment.get(Sending.class).carryOut();
    var all = environment.post.letters();
    var fresh =
        all.subList(read, all.size()).stream()
            .map(letter -> letter.to().replaceFirst("@.*", "") + ": " + letter.subject())
            .sorted()
            .toList();
    read = all.size();
    return fresh;
  }

  private static List<String> to(String what, String... workers) {
    return Stream.of(workers).map(worker -> worker + ": " + what).sorted().toList();
  }

  private static final String ASKED = "“Drawer” for Tam Briain.";
  private static final String REMINDED = "Still waits: “Drawer” for Tam Briain.";

  @Test
  void day_by_day() {
    assertThat(letters()).isEqualTo(to(ASKED, "W-11"));
    day(2, 7);
    assertThat(letters()).isEmpty();
    day(3, 7);
    assertThat(letters()).as("reminded after two days").isEqualTo(to(REMINDED, "W-11"));
    // Mate waits for two days: the clock stands meanwhile.
    decides("W-11", "hold", LocalDate.parse("2027-03-04"), "");
    day(5, 7);
    day(7, 7);
    assertThat(line().stages().getFirst().state()).isEqualTo("open");
    assertThat(letters()).isEmpty();
    day(8, 7);
    assertThat(letters()).as("it goes on to the captain").isEqualTo(to(ASKED, "W-12"));
    // Whom it went on from has no say any more.
    assertThat(line().stages().getFirst().who())
        .extracting(AskedOne::worker)
        .containsExactly("W-12");
    decides("W-12", "pass-on", null, "W-19");
    assertThat(letters()).isEqualTo(to(ASKED, "W-19"));
    decides("W-19", "approve", null, "");
    // Two stages side by side; who is away is asked by their deputy.
    assertThat(letters()).isEqualTo(to(ASKED, "W-14", "W-16", "W-18"));
    decides("W-14", "approve", null, "");
    assertThat(letters()).isEmpty();
    // One of the office leaves: their manager steps in at once.
    environment.load(without("W-16"));
    environment.get(LinesDue.class).carryOut();
    assertThat(letters()).isEqualTo(to(ASKED, "W-12"));
    day(10, 11);
    assertThat(letters()).as("reminded").isEqualTo(to(REMINDED, "W-12", "W-18"));
    day(12, 11);
    assertThat(letters()).as("standby joins in").isEqualTo(to(ASKED, "W-20"));
    decides("W-18", "approve", null, "");
    assertThat(line().state()).isEqualTo("open");
    assertThat(letters()).isEmpty();
    decides("W-12", "approve", null, "");
    assertThat(letters()).as("the last stage").isEqualTo(to(ASKED, "W-15"));
    day(15, 15);
    assertThat(letters()).isEqualTo(to(REMINDED, "W-15"));
    day(18, 15);
    assertThat(line().state()).isEqualTo("lapsed");
    assertThat(letters())
        .singleElement()
        .asString()
        .startsWith("W-10: “Drawer” for Tam Briain was lapsed");
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    environment.at("2027-04-20T07:00:00Z");
    assertThat(letters()).as("nobody hears of it again").isEmpty();
  }

  private static String[] without(String worker) {
    return Stream.of(CREW).filter(row -> !row.startsWith(worker + ",")).toArray(String[]::new);
  }
}
