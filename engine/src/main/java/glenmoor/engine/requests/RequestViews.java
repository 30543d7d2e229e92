package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.requests.Approver;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.ListedLine;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.OfferNumbers;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.Question;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageRule;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.StageState;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Times;
import glenmoor.core.requests.TeamShare;
import glenmoor.engine.Authorization;
import glenmoor.engine.conflicts.Prevention;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.requests.Asking.Checked;
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
import glenmoor.store.requests.RequestMapper.Wanted;
import jakarta.inject.Named;
import java.time.Duration;
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

  /** A question with its answer. */
  public record Answered(String key, String question, String answer) {}

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
      List<PreviewStage> stages) {}

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

  /** A line of a request. */
  public record LineShown(
      long id,
      String kind,
      String offer,
      String rolePackage,
      String name,
      String purpose,
      Who subject,
      String subjectDetail,
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
      TeamShare team) {}

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
  private final Organisations organisations;
  private final Asking asking;
  private final Prevention prevention;
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
      Organisations organisations,
      Asking asking,
      Prevention prevention,
      Catalogues catalogues,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.grants = grants;
    this.accounts = accounts;
    this.operations = operations;
    this.signIns = signIns;
    this.runs = runs;
    this.organisations = organisations;
    this.asking = asking;
    this.prevention = prevention;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  // ---- whom it concerns

  /** Whether the actor may see a request: 404 to everybody else. */
  boolean concerns(RequestRow request, List<LineRow> lines, Actor actor) {
    if (actor.may(Permission.SEE_REQUESTS) || request.askedBy().equals(actor.login())) {
      return true;
    }
    var catalogue = catalogues.current();
    if (lines.stream()
        .map(line -> LineMoves.portfolio(line.packageKey(), catalogue))
        .anyMatch(
            key -> !key.isEmpty() && actor.may(Permission.TEND_PORTFOLIOS, Scope.portfolio(key)))) {
      return true;
    }
    var own = asking.own(actor);
    return own != null
        && (lines.stream().anyMatch(line -> line.personId().equals(own.id()))
            || isManagerOf(own, lines)
            || requests.isAsked(request.id(), own.id()));
  }

  private boolean isManagerOf(PersonRow own, List<LineRow> lines) {
    var key = WorkerNumber.key(own.workerNumber());
    var facts = catalogues.current().facts();
    return people.byIds(lines.stream().map(LineRow::personId).distinct().toList()).stream()
        .map(row -> FactsJson.read(row.facts(), facts).text(Facts.MANAGER))
        .anyMatch(manager -> WorkerNumber.key(manager).equals(key));
  }

  boolean mayWithdraw(RequestRow request, List<LineRow> lines, Actor actor) {
    var own = asking.own(actor);
    return request.askedBy().equals(actor.login())
        || own != null && lines.stream().anyMatch(line -> line.personId().equals(own.id()));
  }

  // ---- lists

  /**
   * Lines of requests, the last one first.
   *
   * @param whose {@code mine} those that the actor asked for or gets, {@code waiting} those that
   *     wait for the actor, {@code all} for those who see requests
   * @throws glenmoor.engine.Refused where the actor may not see that
   */
  public List<ListedLine> list(
      String whose,
      @Nullable String worker,
      @Nullable String offer,
      @Nullable String state,
      long before,
      int limit,
      Actor actor) {
    var own = asking.own(actor);
    var all = whose.equals("all");
    if (all) {
      Authorization.need(actor, Permission.SEE_REQUESTS);
    } else if (own == null) {
      return List.of();
    }
    var person = worker == null || worker.isEmpty() ? null : people.byWorker(worker);
    if (worker != null && !worker.isEmpty() && person == null) {
      return List.of();
    }
    return requests.list(
        new Wanted(
            whose.equals("mine") && own != null ? own.id() : null,
            whose.equals("waiting") && own != null ? own.id() : null,
            person == null ? null : person.id(),
            offer,
            state,
            before,
            limit));
  }

  /**
   * What a line in a list is about.
   *
   * @param gives plain names
   */
  public record ListedAbout(String name, List<String> gives, List<Answered> answers, String risk) {}

  /** The same, from the row of a list. */
  public ListedAbout about(ListedLine line) {
    var catalogue = catalogues.current();
    var gives = Ask.gives(line.packageKey(), LineRuns.keys(line.selected()), catalogue).toList();
    return new ListedAbout(
        Optional.ofNullable(catalogue.packages().get(line.packageKey()))
            .map(RolePackage::name)
            .orElse(line.packageKey()),
        gives.stream().map(Entitlement::plainName).toList(),
        answered(line.offer(), LineRuns.answersOf(line.answers()), catalogue),
        Ask.risk(gives.stream()).word());
  }

  /**
   * How the asks under an offer fare.
   *
   * @param name its plain name
   */
  public record Numbers(String name, OfferNumbers of) {}

  private static final Duration LOOKED_AT = Duration.ofDays(90);

  /** The same of every offer that was asked for, within ninety days. */
  public List<Numbers> numbers(Actor actor) {
    Authorization.need(actor, Permission.SEE_REQUESTS);
    var offers = catalogues.current().defined().all(OfferKind.class);
    return requests.numbers(clock.instant().minus(LOOKED_AT)).stream()
        .map(each ->
            new Numbers(
                Optional.ofNullable(offers.get(each.offer())).map(Offer::name).orElse(each.offer()),
                each))
        .toList();
  }

  /** How many lines wait for the actor, up to a number. */
  public int waiting(int most, Actor actor) {
    var own = asking.own(actor);
    return own == null ? 0 : requests.countAsked(own.id(), most);
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
    if (request == null || !concerns(request, lines, actor)) {
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
        mayWithdraw(request, lines, actor)
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

  private static Who who(PersonRow row) {
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
    var given = grants.ofLine(line.personId(), line.offer() + "#" + line.id()).stream().findFirst();
    return new LineShown(
        line.id(),
        line.kind(),
        line.offer(),
        line.packageKey(),
        rolePackage.map(RolePackage::name).orElse(line.packageKey()),
        rolePackage.map(RolePackage::purpose).orElse(""),
        who(subject),
        catalogue.subtitle(FactsJson.read(subject.facts(), catalogue.facts())),
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
        own != null && run.asks(new PersonId(own.id())),
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
        team(subject, line.packageKey(), catalogue));
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

  private static Conflicting conflicting(ConflictRule rule, boolean needsTerms) {
    return new Conflicting(
        rule.key(), rule.name(), rule.risk(), rule.controls(), rule.longestDays(), needsTerms);
  }

  private TeamShare team(PersonRow subject, String rolePackage, Catalogue catalogue) {
    var manager =
        WorkerNumber.key(FactsJson.read(subject.facts(), catalogue.facts()).text(Facts.MANAGER));
    var now = clock.instant();
    return manager.isEmpty()
        ? new TeamShare(0, 0)
        : requests.team(
            manager, subject.id(), rolePackage, now, now.atZone(catalogue.zone()).toLocalDate());
  }

  static Gives gives(Entitlement each, Catalogue catalogue) {
    return new Gives(
        each.key(),
        each.plainName(),
        catalogue.application(each.application()).name(),
        each.risk().word());
  }

  private static List<Answered> answered(
      String offer, Map<String, String> answers, Catalogue catalogue) {
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

  // ---- before it is sent

  PreviewLine preview(Checked checked, @Nullable PersonRow own, Catalogue catalogue, Instant now) {
    var ask = checked.ask();
    var route =
        Objects.requireNonNull(catalogue.defined().all(RouteKind.class).get(ask.offer().route()));
    var found =
        prevention.caused(
            checked.subject().id(),
            ask.gives(catalogue).map(Entitlement::key).collect(Collectors.toSet()),
            catalogue,
            now);
    var rules = new ArrayList<>(route.stages());
    if (!found.isEmpty() && rules.stream().noneMatch(StageRule::settlesConflicts)) {
      rules.add(RouteKind.conflictStage(catalogue.defined()));
    }
    return new PreviewLine(
        ask.offer().key(),
        ask.rolePackage().key(),
        ask.rolePackage().name(),
        who(checked.subject()),
        ask.kind().word(),
        ask.startsAt(),
        ask.endsAt(),
        Ask.risk(ask.gives(catalogue)).word(),
        ask.gives(catalogue).map(each -> gives(each, catalogue)).toList(),
        answered(ask.offer().key(), ask.answers(), catalogue),
        found.stream().map(rule -> conflicting(rule, false)).toList(),
        stages(checked, own, found, rules, catalogue, now));
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
            : people.byIds(asked).stream()
                .collect(Collectors.toMap(PersonRow::id, RequestViews::who));
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

  /** Whether a question is asked of somebody, with the answers before it. */
  static boolean isAsked(
      Question question, PersonRow subject, Map<String, String> answers, Catalogue catalogue) {
    return Ask.isAsked(question, FactsJson.person(subject, catalogue.facts()), answers, catalogue);
  }
}
