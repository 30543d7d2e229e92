package glenmoor.core.provisioning;

import static glenmoor.core.SkerryLine.NOW;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.access.DesiredAccess;
import glenmoor.core.applications.AccountState;
import glenmoor.core.people.Person;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What holds for every plan, whatever life does: shown on lives made by chance. */
class PlannerHoldsTest {
  private static final int LIVES = 300;
  private static final int TURNS = 8;

  /** One step of a life. */
  private record Turn(PersonSnapshot before, PersonPlan plan, PersonSnapshot after, Instant at) {}

  private static List<Turn> life(Random random) {
    var turns = new ArrayList<Turn>();
    var snapshot = new PersonSnapshot(person(random), List.of(), List.of());
    var at = NOW;
    for (var turn = 0; turn < TURNS; turn++) {
      var plan = plan(snapshot, at);
      var after = PlannerTest.after(snapshot, plan, snapshot.person());
      turns.add(new Turn(snapshot, plan, after, at));
      at = at.plus(Duration.ofDays(random.nextInt(40)));
      snapshot = random.nextInt(3) == 0 ? after : after.withPerson(person(random));
    }
    return turns;
  }

  private static Person person(Random random) {
    var facts = new ArrayList<Object>();
    facts.addAll(
        List.of("department", List.of("Deck", "Engine", "Freight").get(random.nextInt(3))));
    facts.addAll(List.of("start", LocalDate.of(2027, 1, 1).plusDays(random.nextInt(120))));
    if (random.nextInt(3) == 0) {
      facts.addAll(List.of("end", LocalDate.of(2027, 4, 1).plusDays(random.nextInt(120))));
    }
    if (random.nextInt(3) == 0) {
      var leave = LocalDate.of(2027, 3, 1).plusDays(random.nextInt(90));
      facts.addAll(List.of("leaveFrom", leave, "leaveTo", leave.plusDays(random.nextInt(30))));
    }
    return una(facts.toArray());
  }

  private static PersonPlan plan(PersonSnapshot snapshot, Instant at) {
    var names = Names.free();
    return new Planner(SkerryLine.catalogue(), names, at).plan(snapshot);
  }

  private static List<Turn> turns() {
    var random = new Random(20270301);
    var turns = new ArrayList<Turn>();
    for (var life = 0; life < LIVES; life++) {
      turns.addAll(life(random));
    }
    return turns;
  }

  @Test
  void planning_again_at_the_same_moment_gives_nothing() {
    for (var turn : turns()) {
      var again = plan(turn.after(), turn.at());
      assertThat(again.operations()).as(turn.toString()).isZero();
      assertThat(again.begin()).isEmpty();
      assertThat(again.amend()).isEmpty();
    }
  }

  @Test
  void accounts_end_up_as_they_should_be() {
    for (var turn : turns()) {
      var grants = turn.after().grants();
      for (var application : SkerryLine.catalogue().applications()) {
        var desired =
            DesiredAccess.of(
                application,
                turn.after().person(),
                grants,
                turn.before().accounts().stream()
                    .anyMatch(each ->
                        each.application().equals(application.key())
                            && each.state() != AccountState.NONE),
                SkerryLine.catalogue(),
                turn.at());
        var account =
            turn.after().accounts().stream()
                .filter(each -> each.application().equals(application.key()))
                .findFirst();
        if (desired.account() == AccountState.NONE) {
          account.ifPresent(each -> assertThat(each.state()).isNotEqualTo(AccountState.ENABLED));
        } else {
          assertThat(account).as(turn.toString()).isPresent();
          assertThat(account.orElseThrow().state()).isEqualTo(desired.account());
          assertThat(account.orElseThrow().entitlements())
              .containsExactlyInAnyOrderElementsOf(desired.entitlements());
        }
      }
    }
  }

  @Test
  void an_account_is_shut_before_it_is_emptied_and_opened_after() {
    for (var turn : turns()) {
      for (var account : turn.plan().accounts()) {
        var words = account.commands().stream().map(ProvisioningCommand::word).toList();
        var lastRemoved = words.lastIndexOf("remove");
        assertThat(words.indexOf("disable"))
            .as(words.toString())
            .isLessThanOrEqualTo(
                words.contains("remove") ? words.indexOf("remove") : Integer.MAX_VALUE);
        if (words.contains("enable")) {
          assertThat(words.indexOf("enable")).as(words.toString()).isGreaterThan(lastRemoved);
        }
        if (words.contains("add")) {
          assertThat(words.indexOf("add")).as(words.toString()).isGreaterThan(lastRemoved);
        }
      }
    }
  }

  @Test
  void numbers_of_an_accounts_operations_never_come_twice() {
    for (var turn : turns()) {
      for (var account : turn.plan().accounts()) {
        var before = account.before().map(Account::nextSequence).orElse(1);
        assertThat(account.after().nextSequence()).isEqualTo(before + account.commands().size());
      }
    }
  }

  @Test
  void nothing_happens_before_the_moment_that_was_foretold() {
    for (var turn : turns()) {
      var due = turn.plan().nextDue().orElse(turn.at().plus(Duration.ofDays(300)));
      var justBefore = due.minusMillis(1);
      if (justBefore.isAfter(turn.at())) {
        assertThat(plan(turn.after(), justBefore).operations()).as(turn.toString()).isZero();
      }
    }
  }
}
