package glenmoor.engine.requests;

import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Entitlement.Risk;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.ListedLine;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.Wanted;
import glenmoor.store.requests.RequestMapper.Within;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Lists of requests, and how they fare in numbers. */
@Named
public final class RequestLists {
  private final RequestMapper requests;
  private final PersonMapper people;
  private final Asking asking;
  private final Catalogues catalogues;

  RequestLists(RequestMapper requests, PersonMapper people, Asking asking, Catalogues catalogues) {
    this.requests = requests;
    this.people = people;
    this.asking = asking;
    this.catalogues = catalogues;
  }

  /**
   * Which lines are looked for; empty or null for whichever.
   *
   * @param whose {@code mine} those that the actor asked for or gets, {@code waiting} those that
   *     wait for the actor, {@code all} those that the actor sees by their duties
   * @param worker for whom
   * @param application that give something there
   * @param risk that give something of this risk, or a higher one
   * @param route and {@code stage}, from 1: that wait there, or ended there
   */
  public record LineSearch(
      String whose,
      @Nullable String worker,
      @Nullable String offer,
      @Nullable String state,
      @Nullable String application,
      @Nullable String risk,
      @Nullable String route,
      @Nullable Integer stage) {
    /** Those of somebody, whatever they are. */
    static LineSearch of(String whose) {
      return new LineSearch(whose, null, null, null, null, null, null, null);
    }
  }

  /**
   * Lines of requests, the last one first.
   *
   * @throws glenmoor.engine.Refused where the actor may not see that
   */
  public List<ListedLine> list(LineSearch search, long before, int limit, Actor actor) {
    var own = asking.own(actor);
    var catalogue = catalogues.current();
    var all = search.whose().equals("all");
    if (all) {
      Authorization.needSomewhere(actor, Permission.SEE_REQUESTS);
    } else if (own == null) {
      return List.of();
    }
    var worker = search.worker();
    var person = worker == null || worker.isEmpty() ? null : people.byWorker(worker);
    if (worker != null && !worker.isEmpty() && person == null) {
      return List.of();
    }
    var within = new ArrayList<Within>(all ? RequestsSeen.within(actor, catalogue) : List.of());
    if (search.application() != null) {
      within.add(
          RequestsSeen.giving(each -> each.application().equals(search.application()), catalogue));
    }
    if (search.risk() != null) {
      var least = risk(search.risk());
      within.add(RequestsSeen.giving(each -> each.risk().compareTo(least) >= 0, catalogue));
    }
    return requests.list(
        new Wanted(
            search.whose().equals("mine") && own != null ? own.id() : null,
            search.whose().equals("waiting") && own != null ? own.id() : null,
            person == null ? null : person.id(),
            search.offer(),
            search.state(),
            search.route(),
            search.stage() == null ? null : search.stage() - 1,
            within,
            before,
            limit));
  }

  private static Risk risk(String word) {
    return Arrays.stream(Risk.values())
        .filter(each -> each.word().equals(word))
        .findFirst()
        .orElseThrow(() ->
            Refused.badInput("risk is “%s”; say low, usual, high or critical.".formatted(word)));
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
        Answered.of(line.offer(), LineRuns.answersOf(line.answers()), catalogue),
        Ask.risk(gives.stream()).word());
  }

  /** How many lines wait for the actor, up to a number. */
  public int waiting(int most, Actor actor) {
    var own = asking.own(actor);
    return own == null ? 0 : requests.countAsked(own.id(), most);
  }
}
