package glenmoor.core.requests;

import com.google.auto.service.AutoService;
import glenmoor.core.access.PortfolioKind;
import glenmoor.core.access.RolePackage;
import glenmoor.core.access.RolePackageKind;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.CampaignReading;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Loader;
import glenmoor.core.definitions.Problems;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.lifecycle.SourceKind;
import glenmoor.core.requests.Offer.Asker;
import glenmoor.core.requests.Offer.OnMove;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** {@code offer: ticket-desk}: the terms on which an audience may have a package. */
@AutoService(DefinitionKind.class)
public final class OfferKind implements DefinitionKind<Offer> {
  private static final int USUAL_AHEAD = 90;
  private static final int MOST_AHEAD = 365;
  private static final int USUAL_ANEW = 21;

  @Override
  public String word() {
    return "offer";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("channel", "fact", "letter", "package", "portfolio", "route", "source", "team");
  }

  /**
   * Only an offer that ends with its audience takes part in planning; whether it does is asked of
   * what it said before as well, so the package says whom it concerns in either case.
   */
  @Override
  public Concern concern(String key, Tree.Fields body) {
    return body.text("package")
        .map(each -> Concern.holders("package", each))
        .orElse(Concern.NOBODY);
  }

  /** The bundlers of its package's portfolio write it; their package is looked at beside it. */
  @Override
  public Optional<Loader> loader(String key, Tree.Fields body) {
    return body.text("portfolio")
        .map(portfolio -> new Loader(Permission.BUNDLE, Scope.portfolio(portfolio)));
  }

  /** Only whom it is for can end what somebody has of it. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return !ends(before) && !ends(after)
        || before.text("for").equals(after.text("for"))
            && before.text("on-move").equals(after.text("on-move"));
  }

  private static boolean ends(Tree.Fields fields) {
    return fields.text("on-move").filter("end"::equals).isPresent();
  }

  @Override
  public Optional<Offer> read(String key, Reading reading, Defined known) {
    var rolePackage = rolePackage(reading, known);
    var route = route(reading, known);
    rolePackage.ifPresent(gives -> route.ifPresent(asks -> met(gives, asks, reading)));
    var audience =
        reading.has("for")
            ? new Compiling(reading, known).condition("for")
            : Optional.<Condition>empty();
    var questions = questions(reading, known, rolePackage);
    var term = term(reading);
    var askers = askers(reading);
    var onMove = reading.choice("on-move", OnMove.KEEP, OnMove::word);
    var name = reading.text("name", rolePackage.map(RolePackage::name).orElse(key));
    var ahead = reading.days("starts-ahead", USUAL_AHEAD);
    if (ahead > MOST_AHEAD) {
      reading.problem(
          reading.place("starts-ahead"), "starts-ahead is at most %d days.".formatted(MOST_AHEAD));
    }
    return Optional.of(
        new Offer(
            key,
            name,
            rolePackage.map(RolePackage::key).orElse(""),
            audience,
            askers,
            reading
                .oneOf("direct", askers.isEmpty() ? "yes" : "no", List.of("yes", "no"))
                .equals("yes"),
            reading.oneOf("open", "yes", List.of("yes", "no")).equals("yes"),
            route.map(Route::key).orElse(""),
            term,
            reading.oneOf("reason", "needed", List.of("needed", "optional")).equals("needed"),
            questions,
            ahead,
            onMove,
            askedAnew(onMove, reading),
            reading.oneOf("extend", "yes", List.of("yes", "no")).equals("yes"),
            LetterKind.named("ending-letter", reading, known),
            review(key, name, rolePackage, reading, known),
            tells(reading, known)));
  }

  private static Optional<Campaign> review(
      String key, String name, Optional<RolePackage> rolePackage, Reading reading, Defined known) {
    if (!reading.has("review")) {
      return Optional.empty();
    }
    var review = reading.inside("review", "rhythm");
    var campaign =
        rolePackage.flatMap(gives -> CampaignReading.ofOffer(key, name, gives, review, known));
    if (rolePackage.isPresent()) {
      review.finish();
    }
    return campaign;
  }

  private static int askedAnew(OnMove onMove, Reading reading) {
    var days = reading.days("asked-anew", USUAL_ANEW);
    if (days < 1 || days > MOST_AHEAD) {
      reading.problem(
          reading.place("asked-anew"),
          "asked-anew is %d days; say from 1 to %d.".formatted(days, MOST_AHEAD));
    }
    if (reading.has("asked-anew") && onMove != OnMove.ASK) {
      reading.problem(
          reading.place("asked-anew"),
          "asked-anew says how long somebody keeps it after a move while it is asked for anew, so it goes with on-move: ask.");
    }
    return days;
  }

  /** A source that has somebody new asked for names an offer for that. */
  @Override
  public void check(Collection<Definition> all, Defined known, Problems problems) {
    for (var source : known.all(SourceKind.class).values()) {
      var by = source.countsBy();
      if (by.filter(key -> !known.all(OfferKind.class).containsKey(key)).isPresent()) {
        problems.add(
            new Tree.Place("source: " + source.key(), 0),
            "Whoever is new there counts by the offer “%s”, and there is none."
                .formatted(by.get()));
      }
    }
  }

  private static Optional<RolePackage> rolePackage(Reading reading, Defined known) {
    var named = reading.needed("package", "which package it offers");
    var found = Optional.ofNullable(known.all(RolePackageKind.class).get(named));
    if (found.isEmpty() && !named.isEmpty()) {
      reading.problem(reading.place("package"), "There is no package “%s”.".formatted(named));
    }
    var portfolio = reading.text("portfolio");
    if (found.isPresent() && !found.get().portfolio().equals(portfolio.orElse(""))) {
      reading.problem(
          reading.place("portfolio"),
          found.get().portfolio().isEmpty()
              ? "The package %s is in no portfolio, so its offer is in none.".formatted(named)
              : "The package %s is in the portfolio %s; an offer says the same: portfolio: %s."
                  .formatted(named, found.get().portfolio(), found.get().portfolio()));
    }
    return found;
  }

  private static Optional<Route> route(Reading reading, Defined known) {
    var named = reading.needed("route", "who must agree");
    var routes = known.all(RouteKind.class);
    if (!named.isEmpty() && !routes.containsKey(named)) {
      reading.problem(
          reading.place("route"),
          "There is no route “%s”; there are %s."
              .formatted(named, String.join(", ", routes.keySet())));
    }
    return Optional.ofNullable(routes.get(named));
  }

  /** A stage that asks nobody but stewards needs a package that has some. */
  private static void met(RolePackage gives, Route route, Reading reading) {
    var stewardsOnly =
        route.stages().stream()
            .anyMatch(stage ->
                stage.otherwise().isEmpty()
                    && stage.ask().stream().allMatch(Deciders.Stewards.class::isInstance));
    if (stewardsOnly && gives.portfolio().isEmpty()) {
      reading.problem(
          reading.place("route"),
          "The route %s asks the stewards, and the package %s is in no portfolio, so it has none: name its portfolio, or say otherwise in that stage."
              .formatted(route.key(), gives.key()));
    }
  }

  private static Set<Asker> askers(Reading reading) {
    var askers = reading.choices("asked-by", Asker.class, Asker::word);
    if (askers.isEmpty()) {
      return EnumSet.of(Asker.PERSON, Asker.MANAGER);
    }
    if (askers.contains(Asker.NOBODY) && askers.size() > 1) {
      reading.problem(
          reading.place("asked-by"), "asked-by is nobody, or some of person, manager and anyone.");
    }
    return askers.contains(Asker.NOBODY) ? Set.of() : askers;
  }

  private static List<Telling> tells(Reading reading, Defined known) {
    var channels = known.all(ChannelKind.class).keySet();
    var tells = new ArrayList<Telling>();
    for (var item : reading.items("tells")) {
      if (!(item instanceof Tree.Fields fields)) {
        reading.problem(item.place(), "A telling has fields: to, with a channel, and on.");
        continue;
      }
      var inside = reading.of(fields);
      var to = inside.needed("to", "the key of a channel");
      if (!to.isEmpty() && !channels.contains(to)) {
        reading.problem(
            inside.place("to"),
            "There is no channel “%s”; there are %s.".formatted(to, String.join(", ", channels)));
      }
      var on = inside.choices("on", Telling.Turn.class, Telling.Turn::word);
      inside.finish();
      tells.add(new Telling(to, on.isEmpty() ? EnumSet.allOf(Telling.Turn.class) : on));
    }
    return List.copyOf(tells);
  }

  private static Term term(Reading reading) {
    var text = reading.text("term", "open");
    return Term.of(text)
        .orElseGet(() -> {
          reading.problem(
              reading.place("term"),
              "term is “%s”; say how long it lasts, such as: %s.".formatted(text, Term.EXAMPLES));
          return new Term.OpenEnded();
        });
  }

  private static List<Question> questions(
      Reading reading, Defined known, Optional<RolePackage> rolePackage) {
    var allowed =
        rolePackage
            .map(RolePackage::portfolio)
            .flatMap(key -> Optional.ofNullable(known.all(PortfolioKind.class).get(key)));
    var questions = new ArrayList<Question>();
    for (var item : reading.items("questions")) {
      if (!(item instanceof Tree.Fields fields)) {
        reading.problem(item.place(), "A question has fields: key, ask, and what an answer is.");
        continue;
      }
      var question = QuestionReading.question(fields, reading, known, allowed);
      if (questions.stream().anyMatch(each -> each.key().equals(question.key()))) {
        reading.problem(
            fields.place(), "There are two questions “%s”; keep one.".formatted(question.key()));
      }
      questions.add(question);
    }
    return List.copyOf(questions);
  }
}
