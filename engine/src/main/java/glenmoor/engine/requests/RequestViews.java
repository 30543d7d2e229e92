package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.PersonId;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.requests.Approver;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.StageState;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Times;
import glenmoor.core.requests.TeamShare;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.identity.SignInMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.NoteRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What there is to see of requests, for those whom they concern. */
@Named
public final class RequestViews {
  /** Somebody by name. */
  public record Who(String worker, String name) {}

  /** One thing that a line gives. */
  public record Gives(String entitlement, String name, String application, String risk) {}

  /**
   * What has become of one thing that a line gave.
   *
   * @param state confirmed, on its way, by hand while it is somebody's task, fault, or gone
   * @param since when it was seen in the application; null while it was not
   */
  public record Became(String entitlement, String state, @Nullable Instant since) {}

  /**
   * A conflict that a line would cause.
   *
   * @param needsTerms whether whoever sees this decides on it now, and on what terms
   */
  public record Conflicting(
      String rule,
      String name,
      String risk,
      List<String> controls,
      int longestDays,
      boolean needsTerms) {}

  /** One thing that a record says of somebody. */
  public record SaidOf(String fact, String value) {}

  /** A question with its answer. */
  public record Answered(String key, String question, String answer) {}

  /**
   * Somebody who is asked.
   *
   * @param inPlaceOf whom they stand in for; null for nobody
   * @param as asked, standby or passed-on
   */
  public record AskedOne(
      String worker, String name, @Nullable Who inPlaceOf, String as, boolean agreed) {}

  /**
   * A stage of a line.
   *
   * @param state ahead, open, held, or how it was settled
   * @param nudgesAt the next reminder; null for none
   * @param settledBy who settled it; empty for the clock
   */
  public record StageShown(
      int number,
      List<String> ask,
      String agree,
      boolean beside,
      String state,
      List<AskedOne> who,
      @Nullable Instant opened,
      @Nullable Instant nudgesAt,
      @Nullable Instant standbyFrom,
      @Nullable Instant lapsesAt,
      @Nullable Instant heldUntil,
      @Nullable Instant settledAt,
      String settledBy,
      String reason,
      String reasonNeeded) {}

  /**
   * A line of a request.
   *
   * @param subjectFacts what their record says, while it is open and they have not begun: whoever
   *     agrees agrees to that as well
   * @param holds the names of the packages that they have already, while it is open
   * @param used what the applications tell of the last use of this or of their accounts there, for
   *     whoever decides
   */
  public record LineShown(
      long id,
      String kind,
      String offer,
      String rolePackage,
      String name,
      String purpose,
      Who subject,
      String subjectDetail,
      List<SaidOf> subjectFacts,
      String reason,
      List<Answered> answers,
      List<Gives> gives,
      String risk,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      String term,
      String state,
      @Nullable Instant endedAt,
      String endReason,
      boolean yours,
      List<Conflicting> conflicts,
      String exemptControl,
      @Nullable Instant exemptUntil,
      List<StageShown> stages,
      @Nullable Instant givenFrom,
      @Nullable Instant givenUntil,
      List<Became> became,
      List<AskedSeats.SeatsLeft> seats,
      List<String> holds,
      TeamShare team,
      List<LastUsed> used) {}

  /** When somebody last used something that they have. */
  public record LastUsed(String what, Instant at) {}

  /** Something that was said or done. */
  public record NoteShown(
      Instant at,
      String by,
      String forPerson,
      String what,
      String text,
      @Nullable Long line,
      @Nullable Integer stage) {}

  /** A request with all there is to see of it. */
  public record RequestShown(
      long id,
      Instant askedAt,
      String askedBy,
      @Nullable Who asker,
      boolean withdrawable,
      List<LineShown> lines,
      List<NoteShown> notes) {}

  private final RequestMapper requests;
  private final PersonMapper people;
  private final GrantMapper grants;
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final SignInMapper signIns;
  private final LineRuns runs;
  private final Asking asking;
  private final Concerned concerned;
  private final AskedSeats seats;
  private final LineSubjects subjects;
  private final Catalogues catalogues;
  private final Clock clock;

  RequestViews(
      RequestMapper requests,
      PersonMapper people,
      GrantMapper grants,
      AccountMapper accounts,
      OperationMapper operations,
      SignInMapper signIns,
      LineRuns runs,
      Asking asking,
      Concerned concerned,
      AskedSeats seats,
      LineSubjects subjects,
      Catalogues catalogues,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.grants = grants;
    this.accounts = accounts;
    this.operations = operations;
    this.signIns = signIns;
    this.runs = runs;
    this.asking = asking;
    this.concerned = concerned;
    this.seats = seats;
    this.subjects = subjects;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  // ---- one of them

  /**
   * A request as it stands.
   *
   * @throws glenmoor.engine.Refused as if there were none for whoever it does not concern
   */
  public RequestShown show(long id, Actor actor) {
    var request = requests.request(id);
    var lines = requests.linesOf(id);
    if (request == null || !concerned.concerns(request, lines, actor)) {
      throw LineMoves.noSuch(id);
    }
    var catalogue = catalogues.current();
    var byLine = runs.of(lines);
    var names = names(request, lines, byLine);
    var own = asking.own(actor);
    return new RequestShown(
        id,
        request.askedAt(),
        displayName(request.askedBy()),
        names.get(request.askerId()),
        concerned.mayWithdraw(request, lines, actor)
            && lines.stream().anyMatch(line -> line.state().equals("open")),
        lines.stream()
            .map(line ->
                line(line, Objects.requireNonNull(byLine.get(line.id())), names, own, catalogue))
            .toList(),
        requests.notes(id).stream().map(note -> note(note, names)).toList());
  }

  /** One line, for whom it concerns. */
  Optional<LineShown> line(long id, Actor actor) {
    var line = requests.line(id);
    return line == null
        ? Optional.empty()
        : show(line.requestId(), actor).lines().stream()
            .filter(each -> each.id() == id)
            .findFirst();
  }

  private NoteShown note(NoteRow note, Map<Long, Who> names) {
    var inPlaceOf = note.forPerson();
    return new NoteShown(
        note.at(),
        displayName(note.byLogin()),
        inPlaceOf == null ? "" : name(names, inPlaceOf),
        note.what(),
        note.text(),
        note.lineId(),
        note.stage());
  }

  private String displayName(String login) {
    if (login.equals(Actor.SERVICE.login())) {
      return Actor.SERVICE.displayName();
    }
    var found = signIns.byName(login);
    return found == null ? login : found.displayName();
  }

  private static String name(Map<Long, Who> names, long person) {
    var who = names.get(person);
    return who == null ? "" : who.name();
  }

  private Map<Long, Who> names(
      RequestRow request, List<LineRow> lines, Map<Long, RouteRun> byLine) {
    var ids =
        Stream.of(
                Stream.ofNullable(request.askerId()),
                lines.stream().map(LineRow::personId),
                requests.notes(request.id()).stream()
                    .flatMap(note -> Stream.ofNullable(note.forPerson())),
                byLine.values().stream()
                    .flatMap(run -> run.stages().stream())
                    .flatMap(RequestViews::mentioned))
            .flatMap(each -> each)
            .distinct()
            .toList();
    return people.byIds(ids).stream()
        .collect(
            Collectors.toMap(PersonRow::id, RequestViews::who, (one, other) -> one, HashMap::new));
  }

  private static Stream<Long> mentioned(StageRun stage) {
    var asked =
        stage.approvers().stream()
            .flatMap(each -> Stream.of(each.named().value(), each.person().value()));
    return stage.state() instanceof Settled settled && settled.by() != null
        ? Stream.concat(asked, Stream.of(settled.by().value()))
        : asked;
  }

  static Who who(PersonRow row) {
    return new Who(row.workerNumber(), row.name());
  }

  private LineShown line(
      LineRow line,
      RouteRun run,
      Map<Long, Who> names,
      @Nullable PersonRow own,
      Catalogue catalogue) {
    var rolePackage = Optional.ofNullable(catalogue.packages().get(line.packageKey()));
    var gives = Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue).toList();
    var subject = people.byIds(List.of(line.personId())).getFirst();
    var given = given(line);
    var yours = own != null && run.asks(new PersonId(own.id()));
    return new LineShown(
        line.id(),
        line.kind(),
        line.offer(),
        line.packageKey(),
        rolePackage.map(RolePackage::name).orElse(line.packageKey()),
        rolePackage.map(RolePackage::purpose).orElse(""),
        who(subject),
        catalogue.subtitle(FactsJson.read(subject.facts(), catalogue.facts())),
        line.state().equals("open") ? subjects.saidOf(subject, catalogue) : List.of(),
        line.reason(),
        answered(line.offer(), LineRuns.answers(line), catalogue),
        gives.stream().map(each -> gives(each, catalogue)).toList(),
        Ask.risk(gives.stream()).word(),
        line.startDay(),
        line.lastDay(),
        line.term(),
        line.state(),
        line.endedAt(),
        line.endReason(),
        yours,
        conflicting(
            line,
            run.conflictsWait(Optional.ofNullable(own).map(row -> new PersonId(row.id()))),
            catalogue),
        line.exemptControl(),
        line.exemptUntil(),
        stages(run, names),
        given.map(GrantMapper.GrantRow::startsAt).orElse(null),
        given.map(GrantMapper.GrantRow::endsAt).orElse(null),
        given.isEmpty() ? List.of() : became(subject, gives),
        line.state().equals("open") && LineMoves.kind(line).gives()
            ? seats.of(subject.id(), gives, catalogue)
            : List.of(),
        line.state().equals("open") ? subjects.holds(subject, catalogue) : List.of(),
        subjects.team(subject, line.packageKey(), catalogue),
        yours ? subjects.used(subject, gives, catalogue) : List.of());
  }

  /** The grant that a line came to, or that it has end sooner or later. */
  private Optional<GrantMapper.GrantRow> given(LineRow line) {
    var kind = LineMoves.kind(line);
    var about = line.aboutGrant();
    if (!line.state().equals("approved")) {
      return Optional.empty();
    }
    return kind == AskKind.EXTEND || kind == AskKind.REMOVE
        ? Optional.ofNullable(about == null ? null : grants.byId(about))
        : grants
            .alike(
                line.personId(), Basis.REQUEST.word(), new GrantedBy(line.offer(), line.id()).key())
            .stream()
            .findFirst();
  }

  /** What was seen of it in the applications, and where it is stuck. */
  private List<Became> became(PersonRow subject, List<Entitlement> gives) {
    var owned = accounts.of(List.of(subject.id()));
    var applications =
        owned.stream().collect(Collectors.toMap(AccountRow::id, AccountRow::application));
    var seen = new HashMap<String, HoldingRow>();
    if (!owned.isEmpty()) {
      accounts
          .holdings(List.copyOf(applications.keySet()))
          .forEach(row -> seen.put(row.entitlement(), row));
    }
    var stuck =
        operations
            .search(
                new OperationSearch(
                    List.of("fault", "task"), null, null, subject.workerNumber(), null, null, 50),
                null)
            .stream()
            .collect(
                Collectors.toMap(
                    OperationView::application, OperationView::state, (one, other) -> one));
    return gives.stream()
        .map(each -> {
          var row = seen.get(each.key());
          if (row != null && row.observed()) {
            return new Became(
                each.key(), row.desired() ? "confirmed" : "on its way out", row.observedSince());
          }
          var at = stuck.get(each.application());
          return new Became(
              each.key(),
              row == null || !row.desired()
                  ? at == null && row != null ? "gone" : at == null ? "on its way" : word(at)
                  : at == null ? "on its way" : word(at),
              null);
        })
        .toList();
  }

  private static String word(String state) {
    return state.equals("task") ? "by hand" : state;
  }

  private static List<Conflicting> conflicting(
      LineRow line, boolean needsTerms, Catalogue catalogue) {
    var rules = catalogue.defined().all(ConflictRuleKind.class);
    return LineRuns.keys(line.conflicts()).stream()
        .flatMap(key -> Stream.ofNullable(rules.get(key)))
        .map(rule -> conflicting(rule, needsTerms))
        .toList();
  }

  static Conflicting conflicting(ConflictRule rule, boolean needsTerms) {
    return new Conflicting(
        rule.key(), rule.name(), rule.risk(), rule.controls(), rule.longestDays(), needsTerms);
  }

  static Gives gives(Entitlement each, Catalogue catalogue) {
    return new Gives(
        each.key(),
        each.plainName(),
        catalogue.application(each.application()).name(),
        each.risk().word());
  }

  static List<Answered> answered(String offer, Map<String, String> answers, Catalogue catalogue) {
    var questions = new LinkedHashMap<String, String>();
    Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(offer))
        .map(Offer::questions)
        .orElse(List.of())
        .forEach(each -> questions.put(each.key(), each.text()));
    return answers.entrySet().stream()
        .map(each ->
            new Answered(
                each.getKey(),
                questions.getOrDefault(each.getKey(), each.getKey()),
                each.getValue()))
        .toList();
  }

  private List<StageShown> stages(RouteRun run, Map<Long, Who> names) {
    var shown = new ArrayList<StageShown>();
    for (var i = 0; i < run.stages().size(); i++) {
      shown.add(stage(i, run.stages().get(i), names));
    }
    return shown;
  }

  private static StageShown stage(int number, StageRun stage, Map<Long, Who> names) {
    var clock = stage.rule().clock();
    var times = times(stage.state());
    var held = stage.state() instanceof Held each ? each : null;
    var settled = stage.state() instanceof Settled each ? each : null;
    var by = settled == null ? null : settled.by();
    return new StageShown(
        number + 1,
        stage.rule().ask().stream().map(Deciders::written).toList(),
        stage.rule().agree().word(),
        stage.rule().beside(),
        word(stage.state()),
        stage.approvers().stream().map(each -> asked(each, names)).toList(),
        stage.opened(),
        times.flatMap(each -> each.nextNudge(clock)).orElse(null),
        times.flatMap(each -> each.standby(clock)).orElse(null),
        times.map(each -> each.lapse(clock)).orElse(null),
        held == null ? null : held.until(),
        settled == null ? null : settled.at(),
        by == null ? "" : name(names, by.value()),
        settled != null ? settled.reason() : held != null ? held.reason() : "",
        stage.rule().reason().word());
  }

  private static Optional<Times> times(StageState state) {
    return switch (state) {
      case Ahead ahead -> Optional.empty();
      case Open open -> Optional.of(open.times());
      case Held held -> Optional.of(held.times());
      case Settled settled -> Optional.empty();
    };
  }

  private static String word(StageState state) {
    return switch (state) {
      case Ahead ahead -> "ahead";
      case Open open -> "open";
      case Held held -> "held";
      case Settled settled -> settled.verdict().word();
    };
  }

  private static AskedOne asked(Approver each, Map<Long, Who> names) {
    var person = names.get(each.person().value());
    return new AskedOne(
        person == null ? "" : person.worker(),
        person == null ? "" : person.name(),
        each.named().equals(each.person()) ? null : names.get(each.named().value()),
        each.as().word(),
        each.agreed());
  }
}
