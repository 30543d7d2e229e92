package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Question;
import glenmoor.core.requests.RouteKind;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What somebody may ask for, found by what it is for. */
@Named
public final class OfferCatalogue {
  /**
   * A question of an offer.
   *
   * @param where the condition under which it is asked; empty for always
   */
  public record Asks(
      String key, String text, String kind, List<String> choices, boolean required, String where) {}

  /**
   * An offer, as whoever may ask sees it.
   *
   * @param gives what comes with it, by application and plain name
   * @param decides who has to agree, stage by stage, in words
   * @param usualSeconds within which half of those who asked for it lately had it; null where
   *     nobody did
   * @param held whether the person has it already
   * @param waits whether it is asked for already
   */
  public record Offered(
      String key,
      String name,
      String rolePackage,
      String purpose,
      List<String> tags,
      List<Gives> gives,
      List<List<String>> decides,
      String term,
      boolean lastDayChosen,
      boolean reasonNeeded,
      int startsAhead,
      List<Asks> questions,
      @Nullable Long usualSeconds,
      boolean held,
      boolean waits) {}

  private static final int MOST_COLLEAGUES = 200;

  private final PersonMapper people;
  private final GrantMapper grants;
  private final RequestMapper requests;
  private final Asking asking;
  private final UsualTimes usual;
  private final Catalogues catalogues;
  private final Clock clock;

  OfferCatalogue(
      PersonMapper people,
      GrantMapper grants,
      RequestMapper requests,
      Asking asking,
      UsualTimes usual,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.grants = grants;
    this.requests = requests;
    this.asking = asking;
    this.usual = usual;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * What the actor may ask for, for somebody, the best match first.
   *
   * @param worker for whom; empty for themselves
   * @param text what it is looked for by; empty for everything
   * @param like the worker number of a colleague: only what they have; empty for nobody
   * @throws Refused if there is nobody for whom they could ask, or no such colleague whom they may
   *     look at
   */
  public List<Offered> find(String worker, String text, String like, Actor actor) {
    var catalogue = catalogues.current();
    var subject = worker.isBlank() ? asking.own(actor) : people.byWorker(worker);
    if (subject == null) {
      if (worker.isBlank()) {
        return List.of();
      }
      throw nobody(worker);
    }
    var person = FactsJson.person(subject, catalogue.facts());
    var now = clock.instant();
    if (Standing.of(person, now.atZone(catalogue.zone()).toLocalDate()).isGone()) {
      throw nobody(worker);
    }
    var mayAsk =
        catalogue.defined().all(OfferKind.class).values().stream()
            .filter(offer -> Asking.mayAsk(AskKind.NEW, offer, subject, person.facts(), actor))
            .toList();
    if (mayAsk.isEmpty() && !worker.isBlank()) {
      throw nobody(worker);
    }
    var held =
        grants.lasting(List.of(subject.id()), now).stream()
            .map(GrantRow::targetKey)
            .collect(Collectors.toSet());
    var words = Likeness.words(text);
    var wanted = like.isBlank() ? null : heldBy(like, person, catalogue, now, actor);
    return mayAsk.stream()
        .filter(offer -> wanted == null || wanted.contains(offer.rolePackage()))
        .filter(offer -> offer.open() && isThere(offer, person, catalogue))
        .map(offer -> offered(offer, subject, held, catalogue))
        .map(offer -> Map.entry(Likeness.of(words, said(offer)), offer))
        .filter(each -> each.getKey() > 0)
        .sorted(
            Comparator.comparing((Map.Entry<Double, Offered> each) -> -each.getKey())
                .thenComparing(each -> each.getValue().name()))
        .map(Map.Entry::getValue)
        .toList();
  }

  /**
   * Which questions of an offer are asked, with some answers.
   *
   * @param worker for whom; empty for themselves
   * @return their keys, in order
   * @throws Refused if there is nobody for whom they could ask for it
   */
  public List<String> asked(String key, String worker, Map<String, String> answers, Actor actor) {
    var catalogue = catalogues.current();
    var subject = worker.isBlank() ? asking.own(actor) : people.byWorker(worker);
    var offer = catalogue.defined().all(OfferKind.class).get(key);
    if (subject == null || offer == null) {
      throw nobody(worker);
    }
    var person = FactsJson.person(subject, catalogue.facts());
    if (!Asking.mayAsk(AskKind.NEW, offer, subject, person.facts(), actor)) {
      throw nobody(worker);
    }
    var asked = new ArrayList<String>();
    var known = new HashMap<String, String>();
    for (var question : offer.questions()) {
      if (Ask.isAsked(question, person, known, catalogue)) {
        asked.add(question.key());
        var answer = answers.getOrDefault(question.key(), "").strip();
        if (!answer.isEmpty()) {
          known.put(question.key(), answer);
        }
      }
    }
    return asked;
  }

  /**
   * What a colleague has. One may look so far at who has the same manager, at one's own reports,
   * and at everybody with the permission for that; what is offered is never more than to anybody.
   */
  private Set<String> heldBy(
      String like, Person subject, Catalogue catalogue, Instant now, Actor actor) {
    var row = people.byWorker(like);
    var colleague = row == null ? null : FactsJson.person(row, catalogue.facts());
    if (row == null || colleague == null || !isColleague(colleague, subject, actor)) {
      throw Refused.notThere(
          "There is no colleague with the worker number %s whom you may look at.".formatted(like));
    }
    return grants.lasting(List.of(row.id()), now).stream()
        .filter(grant -> grant.targetKind().equals("package") && !grant.startsAt().isAfter(now))
        .map(GrantRow::targetKey)
        .collect(Collectors.toSet());
  }

  /** Those with whom the actor shares a manager, by name: nothing else is told of them here. */
  public List<Who> colleagues(Actor actor) {
    var own = asking.own(actor);
    if (own == null) {
      return List.of();
    }
    var catalogue = catalogues.current();
    var manager =
        WorkerNumber.key(FactsJson.read(own.facts(), catalogue.facts()).text(Facts.MANAGER));
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    return manager.isEmpty()
        ? List.of()
        : requests.colleagues(manager, own.id(), today, MOST_COLLEAGUES).stream()
            .map(row -> new Who(row.workerNumber(), row.name()))
            .toList();
  }

  private static boolean isColleague(Person colleague, Person subject, Actor actor) {
    var own = WorkerNumber.keyOrNone(actor.worker());
    var manager = WorkerNumber.key(colleague.facts().text(Facts.MANAGER));
    return actor.may(Permission.SEE_EVERYBODY)
        || !manager.isEmpty()
            && (manager.equals(own)
                || own.equals(subject.worker().key())
                    && manager.equals(WorkerNumber.key(subject.facts().text(Facts.MANAGER))));
  }

  private static Refused nobody(String worker) {
    return Refused.notThere("There is nothing that you could ask for, for %s.".formatted(worker));
  }

  private static boolean isThere(Offer offer, Person person, Catalogue catalogue) {
    var rolePackage = catalogue.packages().get(offer.rolePackage());
    return rolePackage != null
        && rolePackage.retired().isEmpty()
        && Ask.isFor(offer, person, catalogue);
  }

  private Offered offered(Offer offer, PersonRow subject, Set<String> held, Catalogue catalogue) {
    var rolePackage = Objects.requireNonNull(catalogue.packages().get(offer.rolePackage()));
    return new Offered(
        offer.key(),
        offer.name(),
        rolePackage.key(),
        rolePackage.purpose(),
        rolePackage.tags(),
        gives(rolePackage, catalogue),
        Optional.ofNullable(catalogue.defined().all(RouteKind.class).get(offer.route()))
            .map(route ->
                route.stages().stream()
                    .map(stage -> stage.ask().stream().map(Deciders::written).toList())
                    .toList())
            .orElse(List.of()),
        offer.term().written(),
        offer.term().chosen(),
        offer.reasonNeeded(),
        offer.startsAhead(),
        offer.questions().stream().map(OfferCatalogue::asks).toList(),
        usual.of(offer.key()),
        held.contains(rolePackage.key()),
        requests.isOpen(subject.id() + ":" + rolePackage.key()));
  }

  private static List<Gives> gives(RolePackage rolePackage, Catalogue catalogue) {
    return Ask.gives(rolePackage.key(), List.of(), catalogue)
        .map(each -> Gives.of(each, catalogue))
        .toList();
  }

  private static Asks asks(Question question) {
    return new Asks(
        question.key(),
        question.text(),
        question.kind().word(),
        question.choices(),
        question.required(),
        question.where().map(each -> each.text()).orElse(""));
  }

  /** All that it could be found by, the most telling first. */
  private static List<String> said(Offered offer) {
    return Stream.of(
            Stream.of(offer.name(), offer.purpose(), offer.key()),
            offer.tags().stream(),
            offer.gives().stream().flatMap(each -> Stream.of(each.name(), each.application())))
        .flatMap(each -> each)
        .toList();
  }
}
