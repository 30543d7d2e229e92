package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.requests.RequestViews.LineShown;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Asking for access and agreeing to it, on the real database and with the real application. */
class RequestsTest extends EngineTest {
  private static final String ASKING =
      """
      portfolio: deck
      name: Deck
      entitlements: [chartshare/charts, chartshare/westholm, chartshare/drawings]
      ---
      package: night-watch
      name: Night watch
      purpose: Standing the night watch
      portfolio: deck
      tags: [bridge, lookout]
      entitlements: [chartshare/drawings]
      ---
      route: manager
      name: Line manager
      stages:
      - ask: line-manager
        lapse: 6 days
      ---
      route: manager-then-stewards
      name: Line manager, then stewards
      stages:
      - ask: line-manager
        nudge: 2 days
        standby: stewards
        standby-from: 4 days
        lapse: 6 days
      - ask: stewards
        lapse: 6 days
      ---
      offer: night-watch
      package: night-watch
      portfolio: deck
      for: person.department == "Deck"
      asked-by: [person, manager]
      route: manager
      term: up to 30 days
      reason: needed
      ---
      offer: night-watch-long
      package: night-watch
      portfolio: deck
      for: person.department == "Deck"
      asked-by: [person]
      route: manager-then-stewards
      term: 90 days
      reason: optional
      on-move: end
      questions:
      - key: harbour
        ask: Which harbour?
        choices: [Westholm, Tarn Point]
        gives:
          Westholm: [chartshare/westholm]
      """;

  private static final Actor TAM = person("tam", "W-10");
  private static final Actor MATE = person("mate", "W-11");
  private static final Actor CAPTAIN = person("captain", "W-12");
  private static final Actor CLERK = person("clerk", "W-13");
  private static final Actor STEWARD =
      new Actor(
          "steward",
          "Steward",
          "W-14",
          List.of(new Assignment(Duty.STEWARD, Scope.portfolio("deck"), null, null)));

  private RequestService requests;
  private ApprovalService approvals;
  private RequestViews views;
  private RequestLists lists;
  private GrantService grants;

  private static Actor person(String login, String worker) {
    return new Actor(login, login, worker, List.of());
  }

  private static final String[] CREW = {
    "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,",
    "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
    "W-12,Captain,Sow,Bridge,Tarn Point,,2020-01-01,,,",
    "W-13,Clerk,Rao,Office,Westholm,W-12,2020-01-01,,,",
    "W-14,Steward,Fjeld,Bridge,Tarn Point,W-12,2020-01-01,,,"
  };

  @BeforeEach
  void a_crew_and_what_they_may_ask_for() {
    environment.define(ASKING, false);
    environment.load(CREW);
    environment.sent();
    environment.signIns.put(
        "steward", "", "W-14", "a long enough password", true, STEWARD.duties(), ISA);
    requests = environment.get(RequestService.class);
    approvals = environment.get(ApprovalService.class);
    views = environment.get(RequestViews.class);
    lists = environment.get(RequestLists.class);
    grants = environment.get(GrantService.class);
  }

  /** The crew with another line in the place of somebody's. */
  private void hears(String worker, String line) {
    var rows = new ArrayList<String>();
    for (var row : CREW) {
      if (!row.startsWith(worker + ",")) {
        rows.add(row);
      } else if (!line.isEmpty()) {
        rows.add(line);
      }
    }
    environment.load(rows.toArray(String[]::new));
    environment.sent();
  }

  private static NewLine watch(String worker) {
    return new NewLine(
        "night-watch", worker, "", null, null, Map.of(), "I stand it in March", null);
  }

  private static NewLine watchLong(Map<String, String> answers) {
    return new NewLine("night-watch-long", "", "", null, null, answers, "", null);
  }

  private static Decision approve() {
    return new Decision("approve", "", null, "", "", null, "");
  }

  private long ask(NewLine line, Actor actor) {
    return line(requests.submit(List.of(line), "", actor)).id();
  }

  private LineShown line(long request) {
    return views.show(request, ISA).lines().getFirst();
  }

  private LineShown shown(long line) {
    return lists.list(RequestLists.LineSearch.of("all"), Long.MAX_VALUE, 50, ISA).stream()
        .filter(each -> each.id() == line)
        .map(each -> views.show(each.requestId(), ISA))
        .flatMap(each -> each.lines().stream())
        .filter(each -> each.id() == line)
        .findFirst()
        .orElseThrow();
  }

  private static List<String> workers(StageShown stage) {
    return stage.who().stream().map(AskedOne::worker).toList();
  }

  @Test
  void what_is_agreed_to_is_in_the_application_and_ends_at_its_term() {
    var line = ask(watch(""), TAM);
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    assertThat(lists.list(RequestLists.LineSearch.of("waiting"), Long.MAX_VALUE, 50, MATE))
        .hasSize(1);
    approvals.decide(line, approve(), MATE);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Charts", "Slip drawings");
    assertThat(shown(line).state()).isEqualTo("approved");
    assertThat(grants.of("W-10", TAM))
        .filteredOn(each -> each.basis().equals("request"))
        .singleElement()
        .satisfies(each -> assertThat(each.endsAt()).isNotNull());
    environment.at("2027-04-02T08:00:00Z");
    assertThat(environment.groups("W-10")).containsExactly("Charts");
  }

  @Test
  void nobody_decides_who_is_not_asked_and_learns_of_nothing() {
    var line = ask(watch(""), TAM);
    for (var stranger : List.of(TAM, CAPTAIN, CLERK)) {
      assertThatThrownBy(() -> approvals.decide(line, approve(), stranger))
          .isInstanceOf(Refused.class);
    }
    assertThatThrownBy(() -> views.show(shown(line).id(), CLERK)).isInstanceOf(Refused.class);
    var request =
        lists
            .list(RequestLists.LineSearch.of("mine"), Long.MAX_VALUE, 50, TAM)
            .getFirst()
            .requestId();
    assertThatThrownBy(() -> views.show(request, CLERK))
        .isInstanceOfSatisfying(
            Refused.class,
            refused -> assertThat(refused.reason()).isEqualTo(Refused.Reason.NOT_THERE));
    assertThat(views.show(request, MATE).lines()).hasSize(1);
    assertThat(shown(line).state()).isEqualTo("open");
    assertThat(environment.groups("W-10")).containsExactly("Charts");
  }

  @Test
  void one_asks_only_for_whom_and_what_is_offered() {
    assertThatThrownBy(() -> requests.submit(List.of(watch("W-10")), "", CLERK))
        .hasMessageContaining("You cannot ask");
    assertThatThrownBy(() -> requests.submit(List.of(watch("W-99")), "", CLERK))
        .hasMessageContaining("You cannot ask");
    // Not for the office, whoever asks.
    assertThatThrownBy(() -> requests.submit(List.of(watch("W-13")), "", ISA))
        .hasMessageContaining("not offered to");
    assertThat(environment.number("select count(*) from request")).isZero();
  }

  @Test
  void a_crafted_ask_is_refused_with_the_field_it_is_wrong_in() {
    var far = LocalDate.of(2027, 9, 1);
    var wrong =
        List.of(
            new NewLine("night-watch", "", "", null, far, Map.of(), "why", null),
            new NewLine(
                "night-watch", "", "", LocalDate.of(2027, 2, 1), null, Map.of(), "why", null),
            new NewLine(
                "night-watch", "", "", null, LocalDate.of(2027, 2, 1), Map.of(), "why", null),
            new NewLine("night-watch", "", "", null, null, Map.of(), " ", null),
            new NewLine(
                "night-watch", "", "", null, null, Map.of("harbour", "Westholm"), "why", null),
            new NewLine(
                "night-watch-long", "", "", null, null, Map.of("harbour", "Rome"), "", null),
            new NewLine("night-watch-long", "", "", null, null, Map.of(), "", null),
            new NewLine(
                "night-watch-long", "", "", null, far, Map.of("harbour", "Westholm"), "", null),
            new NewLine("night-watch", "", "extend", null, null, Map.of(), "why", 7L),
            new NewLine("no-such", "", "", null, null, Map.of(), "why", null));
    assertThatThrownBy(() -> requests.submit(wrong, "", TAM))
        .isInstanceOfSatisfying(
            Refused.class,
            refused ->
                assertThat(refused.mistakes())
                    .extracting(Refused.Mistake::pointer)
                    .containsExactly(
                        "/lines/0/lastDay",
                        "/lines/1/startDay",
                        "/lines/2/lastDay",
                        "/lines/3/reason",
                        "/lines/4/answers/harbour",
                        "/lines/5/answers/harbour",
                        "/lines/6/answers/harbour",
                        "/lines/7/lastDay",
                        "/lines/8/grant",
                        "/lines/9/offer"));
    assertThat(environment.number("select count(*) from request_line")).isZero();
  }

  @Test
  void the_same_thing_is_asked_for_once() {
    var first = requests.submit(List.of(watch("")), "key-1", TAM);
    assertThat(requests.submit(List.of(watch("")), "key-1", TAM)).isEqualTo(first);
    assertThatThrownBy(() -> requests.submit(List.of(watch("")), "key-2", TAM))
        .hasMessageContaining("asked for already");
    approvals.decide(line(first).id(), approve(), MATE);
    assertThatThrownBy(() -> requests.submit(List.of(watch("")), "", TAM))
        .hasMessageContaining("has “Night watch” already");
  }

  @Test
  void of_two_who_decide_in_the_same_second_one_comes_first() throws Exception {
    environment.define(
        ASKING.replace(
            "- ask: line-manager\n  lapse: 6 days", "- ask: [line-manager, person W-12]"),
        false);
    var line = ask(watch(""), TAM);
    var go = new CountDownLatch(1);
    var refused = new ArrayList<String>();
    try (var threads = Executors.newFixedThreadPool(2)) {
      for (var who : List.of(MATE, CAPTAIN)) {
        threads.submit(() -> {
          go.await();
          try {
            approvals.decide(
                line,
                who == MATE
                    ? approve()
                    : new Decision("decline", "not needed", null, "", "", null, ""),
                who);
          } catch (Refused late) {
            synchronized (refused) {
              refused.add(late.getMessage());
            }
          }
          return null;
        });
      }
      go.countDown();
    }
    assertThat(refused).hasSize(1);
    assertThat(refused.getFirst()).contains("already");
    var given = environment.number("select count(*) from access_grant where basis = 'request'");
    assertThat(given).isEqualTo(shown(line).state().equals("approved") ? 1 : 0);
  }

  @Test
  void an_answer_selects_what_comes_with_it_and_it_goes_together() {
    var line = ask(watchLong(Map.of("harbour", "Westholm")), TAM);
    approvals.decide(line, approve(), MATE);
    assertThat(workers(shown(line).stages().get(1))).containsExactly("W-14");
    approvals.decide(line, approve(), STEWARD);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10"))
        .containsExactlyInAnyOrder("Charts", "Slip drawings", "Westholm");
    var held =
        grants.of("W-10", TAM).stream().filter(each -> each.basis().equals("request")).toList();
    assertThat(held).hasSize(1);
    assertThat(held.getFirst().gives()).containsExactly("Slip drawings", "Westholm's shelf");
    assertThatThrownBy(() -> grants.end(held.getFirst().id(), "jealous", CLERK))
        .isInstanceOf(Refused.class);
    grants.end(held.getFirst().id(), "I sail no more", TAM);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).containsExactly("Charts");
  }

  @Test
  void who_leaves_the_audience_loses_it_where_the_offer_says_so() {
    var line = ask(watchLong(Map.of("harbour", "Tarn Point")), TAM);
    approvals.decide(line, approve(), MATE);
    approvals.decide(line, approve(), STEWARD);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).contains("Slip drawings");
    hears("W-10", "W-10,Tam,Briain,Office,Tarn Point,W-11,2020-01-01,,,");
    assertThat(environment.groups("W-10")).containsExactly("Charts");
  }

  @Test
  void a_leaver_is_given_nothing_and_what_they_had_does_not_come_back_with_them() {
    var line = ask(watch(""), TAM);
    hears("W-10", "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,2027-02-20,,");
    assertThatThrownBy(() -> approvals.decide(line, approve(), MATE)).isInstanceOf(Refused.class);
    environment.at("2027-03-01T06:10:00Z");
    assertThat(shown(line).state()).isEqualTo("dropped");
    assertThat(environment.number("select count(*) from access_grant where basis = 'request'"))
        .isZero();
  }

  @Test
  void what_a_leaver_had_does_not_come_back_with_them() {
    approvals.decide(ask(watch(""), TAM), approve(), MATE);
    environment.agenda.sweep();
    environment.sent();
    hears("W-10", "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,2027-02-28,,");
    environment.at("2027-03-03T06:10:00Z");
    hears("W-10", "W-10,Tam,Briain,Deck,Tarn Point,W-11,2027-03-03,,,");
    environment.at("2027-03-04T06:10:00Z");
    assertThat(environment.groups("W-10")).containsExactly("Charts");
  }

  @Test
  void a_manager_who_left_is_replaced_at_once_and_letters_say_when_it_is_late() {
    var line = ask(watchLong(Map.of("harbour", "Westholm")), TAM);
    hears("W-11", "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,2027-02-20,,");
    environment.at("2027-03-01T06:10:00Z");
    assertThat(workers(shown(line).stages().getFirst())).containsExactly("W-12");
    environment.at("2027-03-05T07:00:00Z");
    assertThat(workers(shown(line).stages().getFirst())).containsExactly("W-12", "W-14");
    environment.at("2027-03-08T07:00:00Z");
    assertThat(shown(line).state()).isEqualTo("lapsed");
    assertThat(views.show(requestOf(line), ISA).notes())
        .extracting(RequestViews.NoteShown::what)
        .containsExactly("asked", "reminded", "asked", "lapsed");
  }

  private long requestOf(long line) {
    return environment.number("select request_id from request_line where id = " + line);
  }

  @Test
  void a_new_manager_is_asked_in_the_place_of_the_old_one() {
    var line = ask(watch(""), TAM);
    hears("W-10", "W-10,Tam,Briain,Deck,Tarn Point,W-14,2020-01-01,,,");
    assertThatThrownBy(() -> approvals.decide(line, approve(), MATE)).isInstanceOf(Refused.class);
    environment.at("2027-03-01T06:10:00Z");
    assertThat(lists.list(RequestLists.LineSearch.of("waiting"), Long.MAX_VALUE, 50, MATE))
        .isEmpty();
    approvals.decide(line, approve(), STEWARD);
    assertThat(shown(line).state()).isEqualTo("approved");
  }

  @Test
  void a_deputy_decides_while_somebody_is_away_and_no_longer() {
    var away = environment.get(AwayPeriods.class);
    var line = ask(watch(""), TAM);
    away.add("", "W-14", LocalDate.of(2027, 3, 1), LocalDate.of(2027, 3, 2), MATE);
    environment.at("2027-03-01T06:10:00Z");
    assertThat(workers(shown(line).stages().getFirst())).containsExactly("W-14");
    environment.at("2027-03-03T06:10:00Z");
    assertThat(workers(shown(line).stages().getFirst())).containsExactly("W-11");
    assertThatThrownBy(() -> approvals.decide(line, approve(), STEWARD))
        .hasMessageContaining("no request");
    assertThatThrownBy(() ->
            away.add("W-11", "W-14", LocalDate.of(2027, 3, 4), LocalDate.of(2027, 3, 5), CLERK))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(
            () -> away.add("", "W-11", LocalDate.of(2027, 3, 4), LocalDate.of(2027, 3, 5), MATE))
        .hasMessageContaining("somebody else");
  }

  @Test
  void an_administrator_decides_in_anothers_place_with_a_reason_and_marked_so() {
    var line = ask(watch(""), TAM);
    assertThatThrownBy(() ->
            approvals.decide(line, new Decision("approve", "", null, "", "", null, "W-11"), ISA))
        .hasMessageContaining("Say why");
    assertThatThrownBy(() ->
            approvals.decide(
                line, new Decision("approve", "why not", null, "", "", null, "W-11"), CLERK))
        .isInstanceOf(Refused.class);
    approvals.decide(
        line, new Decision("approve", "the mate is at sea", null, "", "", null, "W-11"), ISA);
    assertThat(views.show(requestOf(line), ISA).notes())
        .anySatisfy(note -> {
          assertThat(note.what()).isEqualTo("approve");
          assertThat(note.forPerson()).isEqualTo("Mate Halcro");
        });
    assertThat(shown(line).state()).isEqualTo("approved");
  }

  @Test
  void asks_are_counted_by_offer_for_those_who_see_them() {
    var line = ask(watch(""), TAM);
    assertThat(environment.get(RequestNumbers.class).byOffer(ISA))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.of().open()).isOne();
          assertThat(each.of().medianSeconds()).isNull();
        });
    environment.at("2027-03-01T07:00:00Z");
    approvals.decide(line, approve(), MATE);
    assertThat(environment.get(RequestNumbers.class).byOffer(ISA))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.of().open()).isZero();
          assertThat(each.of().approved()).isOne();
          // The clock goes on while a slow machine gets here.
          assertThat(each.of().medianSeconds()).isBetween(3_500L, 3_700L);
        });
    assertThatThrownBy(() -> environment.get(RequestNumbers.class).byOffer(MATE))
        .isInstanceOf(Refused.class);
  }

  @Test
  void an_administrator_who_is_no_person_does_not_decide_on_their_own_ask_either() {
    var line = ask(watch("W-10"), ISA);
    for (var as : List.of("anybody", "W-11")) {
      assertThatThrownBy(() ->
              approvals.decide(line, new Decision("approve", "mine", null, "", "", null, as), ISA))
          .hasMessageContaining("Nobody decides on what they ask for");
    }
    approvals.decide(
        line,
        new Decision("approve", "for her", null, "", "", null, "anybody"),
        TestEnvironment.RONA);
    assertThat(shown(line).state()).isEqualTo("approved");
  }

  @Test
  void whoever_was_cut_off_by_mistake_comes_back_to_what_they_were_given() {
    approvals.decide(ask(watch(""), TAM), approve(), MATE);
    environment.agenda.sweep();
    environment.sent();
    var cutOffs = environment.get(CutOffService.class);
    cutOffs.cutOff("W-10", "somebody else was meant", ISA);
    environment.settled();
    assertThat(environment.groups("W-10")).isEmpty();
    environment.at("2027-03-02T06:10:00Z");
    cutOffs.bringBack("W-10", "it was a mistake", ISA);
    environment.settled();
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Charts", "Slip drawings");
  }

  @Test
  void what_is_had_can_be_extended_before_it_ends_and_only_then() {
    approvals.decide(ask(watch(""), TAM), approve(), MATE);
    var held =
        grants.of("W-10", TAM).stream()
            .filter(each -> each.basis().equals("request"))
            .findFirst()
            .orElseThrow();
    var more =
        ask(
            new NewLine(
                "night-watch", "", "extend", null, null, Map.of(), "one month more", held.id()),
            TAM);
    approvals.decide(more, approve(), MATE);
    assertThat(
            environment.number(
                "select datediff(ends_at, '2027-03-01') from access_grant where basis = 'request'"))
        .isEqualTo(60);
    assertThatThrownBy(() ->
            requests.submit(
                List.of(
                    new NewLine(
                        "night-watch", "W-11", "extend", null, null, Map.of(), "hers", held.id())),
                "",
                MATE))
        .isInstanceOf(Refused.class);
  }

  @Test
  void a_withdrawn_ask_waits_for_nobody() {
    var request = requests.submit(List.of(watch("")), "", TAM);
    assertThatThrownBy(() -> requests.withdraw(request, "", CLERK)).isInstanceOf(Refused.class);
    requests.withdraw(request, "not needed", TAM);
    assertThat(lists.list(RequestLists.LineSearch.of("waiting"), Long.MAX_VALUE, 50, MATE))
        .isEmpty();
    assertThatThrownBy(() -> approvals.decide(line(request).id(), approve(), MATE))
        .isInstanceOfSatisfying(
            Refused.class,
            refused -> assertThat(refused.reason()).isEqualTo(Refused.Reason.NOT_NOW));
  }

  @Test
  void what_may_be_asked_for_is_found_by_what_it_is_for_and_mistyped() {
    var catalogue = environment.get(OfferCatalogue.class);
    assertThat(catalogue.find("", "", "", TAM)).hasSize(2);
    assertThat(catalogue.find("", "nigth watch", "", TAM)).hasSize(2);
    assertThat(catalogue.find("", "lookout", "", TAM)).hasSize(2);
    assertThat(catalogue.find("", "payroll", "", TAM)).isEmpty();
    assertThat(catalogue.find("", "", "", CLERK)).isEmpty();
    assertThatThrownBy(() -> catalogue.find("W-10", "", "", CLERK)).isInstanceOf(Refused.class);
    assertThat(catalogue.find("W-10", "", "", MATE)).hasSize(1);
  }

  @Test
  void what_a_colleague_has_is_asked_for_no_further_than_it_is_offered() {
    var catalogue = environment.get(OfferCatalogue.class);
    hears("W-14", "W-14,Steward,Fjeld,Deck,Tarn Point,W-11,2020-01-01,,,");
    assertThat(catalogue.find("", "", "W-14", TAM)).isEmpty();
    ask(watch("W-14"), MATE);
    assertThat(catalogue.find("", "", "W-14", TAM)).hasSize(2);
    // Of whoever has another manager one learns nothing.
    assertThatThrownBy(() -> catalogue.find("", "", "W-12", TAM)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> catalogue.find("", "", "W-99", TAM)).isInstanceOf(Refused.class);
  }

  @Test
  void a_bundler_builds_of_their_portfolio_and_of_nothing_else() {
    var bundler =
        new Actor(
            "bundler",
            "Bundler",
            "W-13",
            List.of(new Assignment(Duty.BUNDLER, Scope.portfolio("deck"), null, null)));
    environment.askers.put("bundler", bundler);
    loads("package: lookout\nportfolio: deck\nentitlements: [chartshare/charts]", bundler);
    assertThat(environment.catalogues.current().packages()).containsKey("lookout");
    for (var wrong :
        List.of(
            "package: lookout\nentitlements: [chartshare/charts]",
            "package: mine\nportfolio: shore\nentitlements: []",
            "package: start-kit\nportfolio: deck\nentitlements: [chartshare/charts]",
            "portfolio: deck\nentitlements: [chartshare/charts]",
            "birthright: all\npackage: lookout\nwhere: 'true'",
            "offer: x\npackage: lookout\nroute: manager",
            "route: manager\nstages: [{ask: person W-13}]")) {
      assertThatThrownBy(() -> loads(wrong, bundler)).as(wrong).isInstanceOf(Refused.class);
    }
    environment.define(
        "portfolio: deck\nentitlements: [chartshare/charts, chartshare/drawings, chartshare/westholm]",
        false);
    assertThatThrownBy(() ->
            loads("package: lookout\nportfolio: deck\nentitlements: [chartshare/nothing]", bundler))
        .isInstanceOf(Refused.class);
  }

  @Test
  void numbers_lead_to_their_lists_and_nobody_sees_more_of_them_than_of_those() {
    var numbers = environment.get(RequestNumbers.class);
    approvals.decide(ask(watch(""), TAM), approve(), MATE);
    ask(watchLong(Map.of("harbour", "Westholm")), MATE);
    assertThat(numbers.byStage(ISA))
        .anySatisfy(each -> {
          assertThat(each.route()).isEqualTo("manager");
          assertThat(each.settled()).isOne();
          assertThat(each.open()).isZero();
          assertThat(each.medianSeconds()).isNotNull();
        })
        .anySatisfy(each -> {
          assertThat(each.route()).isEqualTo("manager-then-stewards");
          assertThat(each.ask()).containsExactly("line-manager");
          assertThat(each.open()).isOne();
        });
    assertThat(numbers.byApplication(ISA))
        .filteredOn(each -> each.application().equals("chartshare"))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.open()).isOne();
          assertThat(each.approved()).isOne();
          assertThat(each.asked()).isOne();
          assertThat(each.privileged()).isZero();
        });
    assertThat(listed(null, "chartshare", null, null, null, ISA)).hasSize(2);
    assertThat(listed("open", null, null, "manager-then-stewards", 1, ISA)).hasSize(1);
    assertThat(listed("open", null, null, "manager-then-stewards", 2, ISA)).isEmpty();
    assertThat(listed(null, null, "high", null, null, ISA)).isEmpty();
    assertThat(listed(null, null, "usual", null, null, ISA)).hasSize(2);
    assertThat(listed(null, "nowhere", null, null, null, ISA)).isEmpty();
    // Who looks after a portfolio, or an application, sees its own.
    assertThat(listed(null, null, null, null, null, STEWARD)).hasSize(2);
    assertThat(numbers.byStage(STEWARD)).isNotEmpty();
    for (var duty :
        List.of(
            new Assignment(Duty.STEWARD, Scope.portfolio("yard"), null, null),
            new Assignment(Duty.APPLICATION_OWNER, Scope.application("elsewhere"), null, null))) {
      var stranger = new Actor("stranger", "Stranger", "W-13", List.of(duty));
      assertThat(listed(null, null, null, null, null, stranger)).isEmpty();
      assertThat(numbers.byStage(stranger)).isEmpty();
      assertThat(numbers.byOffer(stranger)).isEmpty();
      assertThat(numbers.byApplication(stranger)).isEmpty();
    }
    var owner =
        new Actor(
            "owner",
            "Owner",
            "W-13",
            List.of(
                new Assignment(
                    Duty.APPLICATION_OWNER, Scope.application("chartshare"), null, null)));
    assertThat(listed(null, null, null, null, null, owner)).hasSize(2);
    assertThatThrownBy(() -> numbers.byStage(TAM)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> listed(null, null, null, null, null, TAM)).isInstanceOf(Refused.class);
  }

  @Test
  void an_audience_can_be_a_team_and_leave_somebody_out() {
    environment.define(
        """
        team: lookouts
        members: [W-10, W-11]
        ---
        offer: night-watch
        package: night-watch
        portfolio: deck
        for: '"lookouts" in person.teams && person.worker != "W-11"'
        route: manager
        reason: optional
        """,
        false);
    var offers = environment.get(OfferCatalogue.class);
    assertThat(offers.find("", "", "", TAM)).anyMatch(each -> each.key().equals("night-watch"));
    for (var other : List.of(MATE, CLERK)) {
      assertThat(offers.find("", "", "", other))
          .as(other.login())
          .noneMatch(each -> each.key().equals("night-watch"));
    }
    assertThat(
            environment
                .get(RouteRehearsal.class)
                .draft(
                    "night-watch",
                    "offer: night-watch\npackage: night-watch\nportfolio: deck\nroute: manager\nfor: '\"lookouts\" in person.teams'",
                    null,
                    ISA)
                .people())
        .as("counted in the database as it is asked of one")
        .isEqualTo(2);
    environment.define("team: lookouts\nmembers: [W-11]", false);
    assertThat(offers.find("", "", "", TAM)).noneMatch(each -> each.key().equals("night-watch"));
  }

  @Test
  void whoever_may_ask_for_anybody_says_why() {
    var desk = new Actor("desk", "Desk", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var line =
        new NewLine(
            "night-watch-long", "W-10", "", null, null, Map.of("harbour", "Westholm"), " ", null);
    assertThatThrownBy(() -> requests.submit(List.of(line), "", desk))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("says why");
  }

  @Test
  void who_decides_sees_what_they_hold_and_who_looks_sees_how_long_it_takes() {
    var first = ask(watch(""), TAM);
    environment.at("2027-03-01T08:00:00Z");
    approvals.decide(first, approve(), MATE);
    var line = ask(watch(""), MATE);
    assertThat(shown(line).holds()).contains("Start kit");
    environment.at("2027-03-01T10:00:00Z");
    assertThat(environment.get(OfferCatalogue.class).find("", "", "", MATE))
        .filteredOn(each -> each.key().equals("night-watch"))
        .singleElement()
        .satisfies(each -> assertThat(each.usualSeconds()).isBetween(7_000L, 7_300L));
  }

  private List<glenmoor.core.requests.ListedLine> listed(
      String state, String application, String risk, String route, Integer stage, Actor actor) {
    return lists.list(
        new RequestLists.LineSearch("all", null, null, state, application, risk, route, stage),
        Long.MAX_VALUE,
        50,
        actor);
  }

  private void loads(String yaml, Actor actor) {
    var work =
        environment.definitions.beginLoad(
            List.of(new glenmoor.engine.definitions.DefinitionFile("x.yaml", yaml)),
            false,
            "a test",
            actor);
    assertThat(environment.ended(work).state()).isEqualTo("done");
  }
}
