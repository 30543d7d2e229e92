package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.StageRule;
import glenmoor.engine.conflicts.Prevention;
import glenmoor.engine.requests.Asking.Checked;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What would come of asking, before anything is sent: what it gives and breaks, and who would
 * decide.
 */
@Named
public final class RequestPreviews {
  /**
   * A stage as it would be asked.
   *
   * @param ask who is asked, in words
   * @param who they are at this moment; empty where there is nobody
   * @param nudgeDays when they are reminded, in days after it opened
   * @param standbyDays when the standby approvers join in; null for never
   * @param onTo who is asked once it would lapse; empty where it is over then
   * @param note what is special about it; empty for nothing
   */
  public record PreviewStage(
      List<String> ask,
      String agree,
      boolean beside,
      List<Who> who,
      List<Integer> nudgeDays,
      @Nullable Integer standbyDays,
      List<Who> standby,
      int lapseDays,
      List<Who> onTo,
      String note) {}

  /** A line as it would be asked for. */
  public record PreviewLine(
      String offer,
      String rolePackage,
      String name,
      Who subject,
      String kind,
      Instant startsAt,
      @Nullable Instant endsAt,
      String risk,
      List<Gives> gives,
      List<Answered> answers,
      List<Conflicting> conflicts,
      List<AskedSeats.SeatsLeft> seats,
      List<PreviewStage> stages) {}

  private final PersonMapper people;
  private final Organisations organisations;
  private final Prevention prevention;
  private final AskedSeats seats;

  RequestPreviews(
      PersonMapper people, Organisations organisations, Prevention prevention, AskedSeats seats) {
    this.seats = seats;
    this.people = people;
    this.organisations = organisations;
    this.prevention = prevention;
  }

  PreviewLine preview(Checked checked, @Nullable PersonRow own, Catalogue catalogue, Instant now) {
    var ask = checked.ask();
    var route =
        Objects.requireNonNull(catalogue.defined().all(RouteKind.class).get(ask.offer().route()));
    var found = caused(checked, catalogue, now);
    var rules = new ArrayList<>(route.stages());
    if (!found.isEmpty() && rules.stream().noneMatch(StageRule::settlesConflicts)) {
      rules.add(RouteKind.conflictStage(catalogue.defined()));
    }
    return new PreviewLine(
        ask.offer().key(),
        ask.rolePackage().key(),
        ask.rolePackage().name(),
        Who.of(checked.subject()),
        ask.kind().word(),
        ask.startsAt(),
        ask.endsAt(),
        Ask.risk(ask.gives(catalogue)).word(),
        ask.gives(catalogue).map(each -> Gives.of(each, catalogue)).toList(),
        Answered.of(ask.offer().key(), ask.answers(), catalogue),
        found.stream().map(rule -> Conflicting.of(rule, false)).toList(),
        ask.kind().gives()
            ? seats.of(checked.subject().id(), ask.gives(catalogue).toList(), catalogue)
            : List.of(),
        stages(checked, own, found, rules, catalogue, now));
  }

  private List<ConflictRule> caused(Checked checked, Catalogue catalogue, Instant now) {
    var ask = checked.ask();
    var about = checked.about();
    return ask.kind().gives()
        ? prevention.caused(
            checked.subject().id(),
            ask.kind().replaces() && about != null ? about.basisKey() : "",
            ask.gives(catalogue).map(Entitlement::key).collect(Collectors.toSet()),
            ask.endsAt(),
            catalogue,
            now)
        : List.of();
  }

  private List<PreviewStage> stages(
      Checked checked,
      @Nullable PersonRow own,
      List<ConflictRule> found,
      List<StageRule> rules,
      Catalogue catalogue,
      Instant now) {
    return stages(
        new Organisations.About(
            checked.subject(),
            own == null ? null : own.id(),
            checked.ask().rolePackage().portfolio(),
            checked.ask().gives(catalogue).toList(),
            found.stream().map(ConflictRule::key).toList(),
            List.of()),
        rules,
        checked.ask().view(checked.person(), found.size(), catalogue),
        catalogue,
        now);
  }

  /** Who would be asked at each stage of a route at this moment. */
  List<PreviewStage> stages(
      Organisations.About about,
      List<StageRule> rules,
      Map<String, Object> view,
      Catalogue catalogue,
      Instant now) {
    var organisation =
        organisations.around(about, rules, catalogue, now.atZone(catalogue.zone()).toLocalDate());
    var asked =
        rules.stream()
            .flatMap(rule ->
                Stream.of(rule.ask(), rule.otherwise(), rule.standby(), rule.onTo())
                    .flatMap(who -> organisation.asked(who).stream()))
            .map(each -> each.person().value())
            .collect(Collectors.toSet());
    var names =
        asked.isEmpty()
            ? Map.<Long, Who>of()
            : people.byIds(asked).stream().collect(Collectors.toMap(PersonRow::id, Who::of));
    return rules.stream().map(rule -> stage(rule, organisation, view, names)).toList();
  }

  private static List<Who> named(
      List<Deciders> who, Organisation organisation, Map<Long, Who> names) {
    return organisation.asked(who).stream()
        .flatMap(each -> Stream.ofNullable(names.get(each.person().value())))
        .distinct()
        .toList();
  }

  private static PreviewStage stage(
      StageRule rule, Organisation organisation, Map<String, Object> view, Map<Long, Who> names) {
    var first = named(rule.ask(), organisation, names);
    var who = first.isEmpty() ? named(rule.otherwise(), organisation, names) : first;
    return new PreviewStage(
        rule.ask().stream().map(Deciders::written).toList(),
        rule.agree().word(),
        rule.beside(),
        who,
        rule.clock().nudges().stream().map(each -> (int) each.toDays()).toList(),
        rule.clock().standby().map(each -> (int) each.toDays()).orElse(null),
        named(rule.standby(), organisation, names),
        (int) rule.clock().lapse().toDays(),
        named(rule.onTo(), organisation, names),
        note(rule, organisation, view, who.isEmpty()));
  }

  private static String note(
      StageRule rule, Organisation organisation, Map<String, Object> view, boolean nobody) {
    if (!takesPlace(rule, view)) {
      return "Left out: its condition does not hold.";
    }
    if (organisation.managerAsks(rule.ask())) {
      return "Met by your asking, as their manager.";
    }
    return nobody ? "Nobody could act here: an administrator decides." : "";
  }

  private static boolean takesPlace(StageRule rule, Map<String, Object> view) {
    try {
      return rule.where().isEmpty() || rule.where().get().holds(view);
    } catch (Unanswerable failed) {
      return true;
    }
  }
}
