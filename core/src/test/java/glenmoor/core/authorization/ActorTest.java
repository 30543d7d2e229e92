package glenmoor.core.authorization;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class ActorTest {
  private static final LocalDate DAY = LocalDate.of(2027, 3, 1);

  private static Actor actor(Assignment... duties) {
    return new Actor("una", "Una Kerrow", "W-01007", List.of(duties));
  }

  @ParameterizedTest
  @EnumSource(Permission.class)
  void without_a_duty_nothing_is_allowed(Permission permission) {
    assertThat(actor().may(permission)).isFalse();
    assertThat(actor().may(permission, Scope.application("directory"))).isFalse();
    assertThat(actor().reach(permission, Scope.Kind.APPLICATION).isNothing()).isTrue();
  }

  @ParameterizedTest
  @EnumSource(Permission.class)
  void an_administrator_may_all_of_it_and_an_auditor_whatever_changes_nothing(
      Permission permission) {
    assertThat(actor(Assignment.of(Duty.ADMINISTRATOR)).may(permission)).isTrue();
    assertThat(actor(Assignment.of(Duty.AUDITOR)).may(permission)).isEqualTo(!permission.changes());
  }

  @Test
  void a_duty_for_one_thing_reaches_that_and_no_other() {
    var fixer = actor(Assignment.of(Duty.FIXER, "directory"));
    assertThat(fixer.may(Permission.DECIDE_OPERATIONS, Scope.application("directory"))).isTrue();
    assertThat(fixer.may(Permission.DECIDE_OPERATIONS, Scope.application("tidepay"))).isFalse();
    assertThat(fixer.may(Permission.DECIDE_OPERATIONS)).isFalse();
    assertThat(fixer.may(Permission.ISSUE_PASSCODES, Scope.application("directory"))).isFalse();
    var reach = fixer.reach(Permission.DECIDE_OPERATIONS, Scope.Kind.APPLICATION);
    assertThat(reach.keys()).containsExactly("directory");
    assertThat(reach.covers("tidepay")).isFalse();
  }

  @Test
  void duties_for_several_things_add_up_and_one_for_everything_covers_each() {
    var several =
        actor(
            Assignment.of(Duty.FIXER, "tidepay"),
            Assignment.of(Duty.APPLICATION_OWNER, "directory"),
            Assignment.of(Duty.FIXER, "directory"));
    assertThat(several.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION).keys())
        .containsExactly("directory", "tidepay");
    var auditor = actor(Assignment.of(Duty.AUDITOR));
    assertThat(auditor.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION).keys()).isNull();
    assertThat(auditor.may(Permission.SEE_APPLICATIONS, Scope.application("tidepay"))).isTrue();
  }

  @Test
  void limits_take_away_and_never_give() {
    var limited =
        actor(Assignment.of(Duty.AUDITOR))
            .limitedTo(Set.of(Permission.SEE_FEEDS, Permission.LOAD_FEEDS));
    var may = Arrays.stream(Permission.values()).filter(limited::may).toList();
    assertThat(may).containsExactly(Permission.SEE_FEEDS);
    assertThat(limited.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION).isNothing())
        .isTrue();
    var owner = actor(Assignment.of(Duty.FIXER, "directory")).limitedTo(Set.of());
    assertThat(owner.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION).isNothing())
        .isTrue();
  }

  @Test
  void a_duty_is_in_force_from_its_first_to_its_last_day() {
    var dated = new Assignment(Duty.AUDITOR, Scope.EVERYTHING, DAY, DAY.plusDays(2));
    assertThat(dated.isInForce(DAY.minusDays(1))).isFalse();
    assertThat(dated.isInForce(DAY)).isTrue();
    assertThat(dated.isInForce(DAY.plusDays(2))).isTrue();
    assertThat(dated.isInForce(DAY.plusDays(3))).isFalse();
    assertThat(Assignment.of(Duty.AUDITOR).isInForce(DAY)).isTrue();
  }

  @Test
  void a_duty_for_one_thing_is_never_given_for_everything() {
    assertThatThrownBy(() -> Assignment.of(Duty.FIXER))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("for application, not for everything");
    assertThatThrownBy(() -> Assignment.of(Duty.ADMINISTRATOR, "directory"))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void every_permission_and_duty_has_a_word_of_its_own() {
    for (var permission : Permission.values()) {
      assertThat(Permission.ofWord(permission.word())).contains(permission);
    }
    for (var duty : Duty.values()) {
      assertThat(Duty.ofWord(duty.word())).contains(duty);
    }
    assertThat(EnumSet.allOf(Duty.class).stream().map(Duty::word)).doesNotHaveDuplicates();
  }
}
