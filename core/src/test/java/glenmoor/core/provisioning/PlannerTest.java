package glenmoor.core.provisioning;

import static glenmoor.core.SkerryLine.NOW;
import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.people.Person;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class PlannerTest {
  private static PersonPlan plan(PersonSnapshot snapshot, Instant now) {
    return plan(snapshot, now, 0);
  }

  private static PersonPlan plan(PersonSnapshot snapshot, Instant now, int highestNumber) {
    var names = Names.upTo(highestNumber);
    return new Planner(SkerryLine.catalogue(), names, now).plan(snapshot);
  }

  private static PersonSnapshot fresh(Person person) {
    return new PersonSnapshot(person, List.of(), List.of());
  }

  /** The picture once a plan was kept, with identities for what was new. */
  static PersonSnapshot after(PersonSnapshot before, PersonPlan plan, Person person) {
    var grants = new ArrayList<Grant>();
    for (var grant : before.grants()) {
      grants.add(
          plan.amend().stream().filter(each -> each.id() == grant.id()).findFirst().orElse(grant));
    }
    var id = 100L + grants.size();
    for (var grant : plan.begin()) {
      grants.add(
          new Grant(
              id++,
              grant.person(),
              grant.target(),
              grant.basis(),
              grant.basisKey(),
              grant.startsAt(),
              grant.endsAt(),
              grant.endReason()));
    }
    var accounts = new ArrayList<>(before.accounts());
    for (var account : plan.accounts()) {
      accounts.removeIf(each -> each.application().equals(account.after().application()));
      accounts.add(account.after());
    }
    return new PersonSnapshot(person, grants, accounts);
  }

  private static List<String> commands(PersonPlan plan, String application) {
    return plan.accounts().stream()
        .filter(each -> each.after().application().equals(application))
        .flatMap(each -> each.commands().stream())
        .map(PlannerTest::words)
        .toList();
  }

  private static String words(ProvisioningCommand command) {
    return switch (command) {
      case ProvisioningCommand.Add add -> "add " + add.entitlement();
      case ProvisioningCommand.Remove remove -> "remove " + remove.entitlement();
      case ProvisioningCommand.Create create ->
          "create " + create.name() + " " + create.state().word();
      case ProvisioningCommand.Update update ->
          "update " + update.name() + " " + update.container();
      case ProvisioningCommand.Enable e -> e.word();
      case ProvisioningCommand.Disable d -> d.word();
      case ProvisioningCommand.SetPassword s -> s.word();
      case ProvisioningCommand.HandOver h -> h.word();
      case ProvisioningCommand.Delete d -> d.word();
    };
  }

  private final Person deckhand = una("department", "Deck");
  private final PersonSnapshot working =
      after(fresh(deckhand), plan(fresh(deckhand), NOW), deckhand);

  @Test
  void a_joiner_gets_an_account_and_then_what_their_grants_give() {
    var plan = plan(fresh(deckhand), NOW);
    assertThat(commands(plan, "directory"))
        .containsExactly("create kerrowu enabled", "add directory/crew", "add directory/deck");
    assertThat(commands(plan, "chartshare"))
        .containsExactly("create kerrowu@skerryline.example enabled", "add chartshare/charts");
  }

  @Test
  void planning_again_changes_nothing() {
    assertThat(plan(working, NOW).operations()).isZero();
    assertThat(plan(working, NOW).accounts()).isEmpty();
  }

  @Test
  void the_second_of_a_name_is_numbered() {
    assertThat(commands(plan(fresh(deckhand), NOW, 1), "directory").getFirst())
        .isEqualTo("create kerrowu2 enabled");
  }

  @Test
  void two_of_a_name_in_one_batch_get_different_numbers() {
    var planner = new Planner(SkerryLine.catalogue(), Names.free(), NOW);
    assertThat(commands(planner.plan(fresh(deckhand)), "directory").getFirst())
        .isEqualTo("create kerrowu enabled");
    assertThat(commands(planner.plan(fresh(deckhand)), "directory").getFirst())
        .isEqualTo("create kerrowu2 enabled");
  }

  @Test
  void a_mover_loses_before_they_gain() {
    var moved = una("department", "Engine");
    var inGrace = plan(working.withPerson(moved), NOW);
    assertThat(commands(inGrace, "directory"))
        .containsExactly("update kerrowu ou=engine", "add directory/engine");
    assertThat(inGrace.nextDue()).contains(NOW.plus(Duration.ofDays(7)));
    var later = after(working, inGrace, moved);
    var over = plan(later, NOW.plus(Duration.ofDays(7)));
    assertThat(commands(over, "directory")).containsExactly("remove directory/deck");
    assertThat(commands(over, "chartshare")).containsExactly("disable", "remove chartshare/charts");
  }

  @Test
  void a_leaver_is_shut_out_before_anything_is_taken() {
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var plan = plan(working.withPerson(left), NOW);
    assertThat(commands(plan, "directory"))
        .containsExactly("disable", "remove directory/crew", "remove directory/deck");
  }

  @Test
  void a_leavers_account_is_deleted_when_its_hold_is_over_and_not_before() {
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var held = after(working, plan(working.withPerson(left), NOW), left);
    // 45 days of the calendar, in which the clocks are put forward.
    var holdOver = Instant.parse("2027-04-15T05:00:00Z");
    assertThat(plan(held, NOW).nextDue()).contains(holdOver);
    assertThat(plan(held, holdOver.minusSeconds(1)).operations()).isZero();
    assertThat(commands(plan(held, holdOver), "directory")).containsExactly("delete");
    assertThat(commands(plan(held, holdOver), "chartshare")).isEmpty();
  }

  @Test
  void whoever_comes_back_after_deletion_gets_the_same_name() {
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var held = after(working, plan(working.withPerson(left), NOW), left);
    var later = NOW.plus(Duration.ofDays(60));
    var deleted = after(held, plan(held, later), left);
    assertThat(commands(plan(deleted.withPerson(deckhand), later), "directory").getFirst())
        .isEqualTo("create kerrowu enabled");
  }

  @Test
  void a_future_joiners_account_is_ready_seven_days_before_and_enabled_on_the_day() {
    var bo = una("department", "Deck", "start", LocalDate.of(2027, 3, 22));
    var first = plan(fresh(bo), NOW);
    assertThat(first.operations()).isZero();
    assertThat(first.nextDue()).contains(Instant.parse("2027-03-15T00:00:00Z"));
    var known = after(fresh(bo), first, bo);
    var ready = plan(known, Instant.parse("2027-03-15T00:00:00Z"));
    assertThat(commands(ready, "directory")).containsExactly("create kerrowu disabled");
    assertThat(ready.nextDue()).contains(Instant.parse("2027-03-22T00:00:00Z"));
    var waiting = after(known, ready, bo);
    var dayOne = plan(waiting, Instant.parse("2027-03-22T00:00:00Z"));
    assertThat(commands(dayOne, "directory"))
        .containsExactly("enable", "add directory/crew", "add directory/deck");
  }

  @Test
  void leave_disables_where_the_application_says_so_and_keeps_the_rights() {
    var away = una("department", "Deck", "leaveFrom", TODAY, "leaveTo", TODAY.plusDays(9));
    var plan = plan(working.withPerson(away), NOW);
    assertThat(commands(plan, "directory")).containsExactly("disable");
    assertThat(commands(plan, "chartshare")).isEmpty();
    var back = plan(after(working, plan, away), NOW.plus(Duration.ofDays(10)));
    assertThat(commands(back, "directory")).containsExactly("enable");
  }

  @Test
  void a_corrected_spelling_renames_where_the_application_says_so() {
    var corrected = una("department", "Deck", "family", "Kerro");
    var plan = plan(working.withPerson(corrected), NOW);
    assertThat(commands(plan, "directory")).containsExactly("update kerrou ou=deck");
    assertThat(commands(plan, "chartshare")).isEmpty();
  }

  @Test
  void each_operation_has_its_place_in_the_lane() {
    var sequence =
        working.accounts().stream()
            .filter(each -> each.application().equals("directory"))
            .map(Account::nextSequence);
    assertThat(sequence).containsExactly(4);
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var plan = plan(working.withPerson(left), NOW);
    assertThat(plan.accounts())
        .extracting(AccountPlan::after)
        .extracting(Account::state)
        .containsOnly(AccountState.DISABLED);
    assertThat(plan.accounts().getFirst().after().nextSequence()).isEqualTo(7);
  }

  @Test
  void a_name_is_given_by_what_it_comes_to_and_not_by_name_and_number_apart() {
    var planner = new Planner(SkerryLine.catalogue(), Names.free(), NOW);
    var names = new ArrayList<String>();
    for (var family : List.of("Name", "Name", "Name2r")) {
      var person = una("department", "Deck", "given", "Row", "family", family);
      names.add(commands(planner.plan(fresh(person)), "directory").getFirst());
    }
    assertThat(names)
        .containsExactly("create namer enabled", "create namer2 enabled", "create name2rr enabled");
    var two = una("department", "Deck", "given", "2", "family", "Namer");
    assertThat(commands(planner.plan(fresh(two)), "directory").getFirst())
        .as("namer2 is taken by the second Name")
        .isEqualTo("create namer22 enabled");
  }

  @Test
  void a_name_of_somebody_else_is_not_given_back() {
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var held = after(working, plan(working.withPerson(left), NOW), left);
    var later = NOW.plus(Duration.ofDays(60));
    var deleted = after(held, plan(held, later), left);
    var planner = new Planner(SkerryLine.catalogue(), Names.with("KERROWU", 4711), later);
    assertThat(commands(planner.plan(deleted.withPerson(deckhand)), "directory").getFirst())
        .isEqualTo("create kerrowu2 enabled");
  }

  @Test
  void making_it_failed_and_a_mended_fact_makes_it_otherwise() {
    var stuck = unmade(working);
    assertThat(plan(stuck, NOW).operations()).as("it waits for somebody").isZero();
    var mended = una("department", "Deck", "given", "Unna");
    assertThat(commands(plan(stuck.withPerson(mended), NOW), "directory"))
        .containsExactly("create kerrowu enabled", "add directory/crew", "add directory/deck");
  }

  @Test
  void making_it_failed_and_somebody_who_leaves_is_shut_all_the_same() {
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    assertThat(commands(plan(unmade(working).withPerson(left), NOW), "directory"))
        .containsExactly("disable");
  }

  private static PersonSnapshot unmade(PersonSnapshot snapshot) {
    return new PersonSnapshot(
        snapshot.person(),
        snapshot.grants(),
        snapshot.accounts().stream()
            .map(each -> each.application().equals("directory") ? unmade(each) : each)
            .toList());
  }

  private static Account unmade(Account account) {
    return new Account(
        account.id(),
        account.person(),
        account.application(),
        account.baseName(),
        account.number(),
        account.name(),
        account.container(),
        account.attributes(),
        account.state(),
        account.entitlements(),
        null,
        account.nextSequence(),
        true,
        Account.Seen.NOTHING);
  }

  @Test
  void a_difference_somebody_answers_for_is_left_alone_until_it_runs_out() {
    var until = NOW.plus(Duration.ofDays(30));
    var account = working.accounts().getFirst();
    var accepted = new AcceptedDeviation(1, account.id(), "entitlement:directory/deck", until);
    var snapshot =
        new PersonSnapshot(deckhand, working.grants(), working.accounts(), List.of(accepted));
    assertThat(plan(snapshot, NOW).operations()).isZero();
    assertThat(plan(snapshot, NOW).nextDue()).contains(until);
    var over = plan(snapshot, until);
    assertThat(commands(over, account.application())).containsExactly("add directory/deck");
    assertThat(over.endedDeviations()).containsExactly(accepted);
  }

  @Test
  void a_change_about_it_ends_the_deviation() {
    var account = working.accounts().getFirst();
    var accepted =
        new AcceptedDeviation(
            1, account.id(), "entitlement:directory/deck", NOW.plus(Duration.ofDays(30)));
    var left = una("department", "Deck", "end", TODAY.minusDays(1));
    var snapshot =
        new PersonSnapshot(left, working.grants(), working.accounts(), List.of(accepted));
    assertThat(plan(snapshot, NOW).endedDeviations()).containsExactly(accepted);
  }

  @Test
  void what_cannot_be_answered_takes_nothing_away() {
    var documents = SkerryLine.documents();
    documents.removeIf(each -> "deck".equals(each.get("birthright")));
    documents.add(
        SkerryLine.map(
            "birthright",
            "deck",
            "package",
            "deck",
            "where",
            "1 / (person.department == \"Deck\" ? 0 : 1) == 1"));
    var planner =
        new Planner(SkerryLine.read(documents).catalogue().orElseThrow(), Names.free(), NOW);
    var plan = planner.plan(working);
    assertThat(plan.operations()).isZero();
    assertThat(plan.amend()).isEmpty();
    assertThat(plan.troubles())
        .singleElement()
        .satisfies(trouble -> {
          assertThat(trouble.where()).isEqualTo("birthright: deck");
          assertThat(trouble.sentence()).contains("divides by zero");
        });
  }

  @Test
  void a_text_that_is_too_short_keeps_what_the_account_has() {
    var documents = SkerryLine.documents();
    documents.replaceAll(each -> {
      if ("directory".equals(each.get("application"))) {
        return SkerryLine.map(
            "application",
            "directory",
            "connector",
            "ldap",
            "account",
            SkerryLine.map(
                "name", "fold(person.family).substring(0, 9)",
                "rename", "on-change",
                "attributes",
                    SkerryLine.map(
                        "cn", "person.name", "title", "person.department.substring(6)")));
      }
      return each;
    });
    var planner =
        new Planner(SkerryLine.read(documents).catalogue().orElseThrow(), Names.free(), NOW);
    var kept = planner.plan(working);
    assertThat(kept.accounts().getFirst().after().name()).isEqualTo("kerrowu");
    assertThat(kept.accounts().getFirst().after().attributes()).containsEntry("title", "Deck");
    assertThat(kept.troubles()).hasSize(2);
    var made = planner.plan(fresh(deckhand));
    assertThat(commands(made, "directory")).as("no account without its name").isEmpty();
    assertThat(made.troubles()).isNotEmpty();
  }

  @Test
  void somebody_whose_first_day_is_cancelled_keeps_nothing_for_a_grace() {
    var bo = una("department", "Deck", "start", LocalDate.of(2027, 3, 22));
    var known = after(fresh(bo), plan(fresh(bo), NOW), bo);
    var elsewhere = una("department", "Engine", "start", LocalDate.of(2027, 3, 22));
    var plan = plan(known.withPerson(elsewhere), NOW);
    assertThat(plan.amend())
        .singleElement()
        .satisfies(grant -> assertThat(grant.endsAt()).isEqualTo(NOW));
  }

  @Test
  void somebody_whose_first_day_is_moved_later_keeps_the_account_shut_until_then() {
    var bo = una("department", "Deck");
    var known = after(fresh(bo), plan(fresh(bo), NOW), bo);
    var later = una("department", "Deck", "start", LocalDate.of(2027, 9, 1));
    var moved = known.withPerson(later);
    var plan = plan(moved, NOW);
    assertThat(commands(plan, "directory")).first().isEqualTo("disable");
    var shut = after(moved, plan, later);
    // Not even after its hold is it deleted.
    var waiting = plan(shut, NOW.plus(Duration.ofDays(120)));
    assertThat(waiting.operations()).isZero();
    var begins = plan(shut, Instant.parse("2027-09-01T06:00:00Z"));
    assertThat(commands(begins, "directory")).contains("enable").doesNotContain("create");
  }
}
