package glenmoor.core.playbooks;

import glenmoor.core.access.RolePackageKind;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.letters.LetterValues;
import glenmoor.core.letters.Template;
import glenmoor.core.playbooks.Action.Seen;
import glenmoor.core.playbooks.Action.TicketVerb;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.StageRule;
import java.time.Duration;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Reads the steps of a playbook: the word a step begins with says what it does. */
final class StepReading {
  private static final Pattern TIME = Pattern.compile("(\\d{1,4}) (minute|hour|day)s?");
  private static final int LONGEST_TEXT = 2_000;
  private static final int USUAL_LAPSE_DAYS = 14;
  private static final int MOST_DAYS = 3_660;

  private final Map<String, Function<String, Optional<Action>>> actions = new TreeMap<>();
  private final Reading reading;
  private final Defined known;

  private StepReading(Reading reading, Defined known) {
    this.reading = reading;
    this.known = known;
    actions.put("letter", this::letter);
    actions.put("passcode", this::passcode);
    actions.put("account", this::account);
    actions.put("disable", key -> application(key, "disable").map(Action.DisableAccount::new));
    actions.put("enable", key -> application(key, "enable").map(Action.EnableAccount::new));
    actions.put("delete", key -> application(key, "delete").map(Action.DeleteAccount::new));
    actions.put("reset", this::reset);
    actions.put(
        "give",
        key -> rolePackage(key, "give").map(found -> new Action.GivePackage(found, days("for"))));
    actions.put("end", key -> rolePackage(key, "end").map(Action.EndPackage::new));
    actions.put("wait", text -> time("wait", text).map(Action.Wait::new));
    actions.put("ask", this::ask);
    actions.put("ticket", this::ticket);
    actions.put(
        "chat",
        key ->
            channel(key, "chat", Channel.Kind.CHAT)
                .flatMap(found -> template("text").map(text -> new Action.Chat(found, text))));
    actions.put(
        "webhook", key -> channel(key, "webhook", Channel.Kind.WEBHOOK).map(Action.Webhook::new));
    actions.put("hand-over", this::handOver);
    actions.put("erase", this::erase);
  }

  /** The step that some fields of a definition are; what is wrong with it is reported. */
  static Optional<Step> step(Tree.Fields fields, Reading playbook, Defined known) {
    var reading = playbook.of(fields);
    var step = new StepReading(reading, known).read(fields);
    step.ifPresent(read -> reading.finish());
    return step;
  }

  private Optional<Step> read(Tree.Fields fields) {
    var word = fields.fields().keySet().stream().findFirst().orElse("");
    var make = actions.get(word);
    if (make == null) {
      reading.problem(
          fields.place(),
          "A step begins with what it does, and “%s” is nothing it could do; it can %s."
              .formatted(word, String.join(", ", actions.keySet())));
      return Optional.empty();
    }
    var action = make.apply(reading.needed(word, "what to " + word));
    var at = reading.text("at").flatMap(this::when);
    var within = reading.has("within") ? Optional.of(days("within")) : Optional.<Integer>empty();
    if (within.isPresent() && at.isEmpty()) {
      reading.problem(
          reading.place("within"),
          "within says how long after its time a step still makes sense; say at, too.");
    }
    var where =
        reading.has("where")
            ? new Compiling(reading, known).condition("where")
            : Optional.<Condition>empty();
    var goesOn = reading.oneOf("fails", "stop", List.of("stop", "go-on")).equals("go-on");
    return action.map(does -> new Step(plain(fields), does, at, within, where, goesOn));
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> plain(Tree.Fields fields) {
    return (Map<String, Object>) fields.plain();
  }

  private Optional<When> when(String text) {
    var when = When.of(text);
    if (when.isEmpty()) {
      reading.problem(
          reading.place("at"),
          "at is “%s”; say a day as seen from the event, and a time where it matters, such as: %s."
              .formatted(text, When.EXAMPLES));
    }
    return when;
  }

  private Optional<Action> letter(String key) {
    var to = whom("to", "person");
    var letter = letterOf(key, "letter");
    letter
        .filter(Letter::tellsPasscode)
        .ifPresent(found ->
            reading.problem(
                reading.place("letter"),
                "The letter “%s” tells a passcode; send it by a step that makes one, such as passcode: directory."
                    .formatted(key)));
    return letter.flatMap(found -> to.map(whom -> new Action.SendLetter(key, whom)));
  }

  private Optional<Action> passcode(String application) {
    var to = whom("to", "manager");
    var key = reading.needed("letter", "which letter tells it");
    var letter = key.isEmpty() ? Optional.<Letter>empty() : letterOf(key, "letter");
    letter
        .filter(found -> !found.tellsPasscode())
        .ifPresent(found ->
            reading.problem(
                reading.place("letter"),
                "The letter “%s” does not tell the passcode: its body has no {{passcode}}."
                    .formatted(key)));
    return withPasswords(application, "passcode")
        .flatMap(found ->
            to.flatMap(whom -> letter.map(told -> new Action.Passcode(found, told.key(), whom))));
  }

  private Optional<Action> reset(String key) {
    var unless = reading.text("unless", "");
    if (!unless.isEmpty() && !unless.equals("changed")) {
      reading.problem(
          reading.place("unless"),
          "unless is “%s”; say changed: the secret stays where they have chosen one of their own since a passcode was set."
              .formatted(unless));
    }
    var found = withPasswords(key, "reset");
    if (!unless.isEmpty()
        && found
            .map(known.all(ApplicationKind.class)::get)
            .filter(each -> !each.can(Ability.PASSWORD_CHANGES))
            .isPresent()) {
      reading.problem(
          reading.place("unless"),
          "%s does not tell whether a password was changed.".formatted(key));
    }
    return found.map(application -> new Action.ResetSecret(application, unless.equals("changed")));
  }

  private Optional<Action> account(String key) {
    var seen = reading.choice("is", Seen.ENABLED, Seen::word);
    return application(key, "account").map(found -> new Action.AwaitAccount(found, seen));
  }

  private Optional<Action> ask(String question) {
    if (reading.has("route")) {
      return askByRoute();
    }
    var whom = whom("of", "manager");
    if (whom.filter(Whom.Themselves.class::isInstance).isPresent()) {
      reading.problem(
          reading.place("of"), "Nobody is asked about themselves; say manager, or who has a duty.");
    }
    var lapse = reading.days("lapse", USUAL_LAPSE_DAYS);
    return template("ask").flatMap(text -> whom.map(of -> new Action.Ask(text, of, lapse)));
  }

  private Optional<Action> askByRoute() {
    var key = reading.text("route", "");
    var routes = known.all(RouteKind.class);
    for (var other : List.of("of", "lapse")) {
      if (reading.has(other)) {
        reading.problem(
            reading.place(other),
            "%s is said by the route, at each of its stages; leave it out.".formatted(other));
      }
    }
    var route = exists(key, "route", "route", routes.keySet()).map(routes::get);
    route
        .filter(found -> found.stages().stream().anyMatch(StepReading::isAboutAccess))
        .ifPresent(found ->
            reading.problem(
                reading.place("route"),
                "The route “%s” asks stewards or owners of what is given; a question gives nothing. Say one that asks people, teams, managers or administrators."
                    .formatted(key)));
    return template("ask")
        .flatMap(text -> route.map(found -> new Action.AskByRoute(text, found.key())));
  }

  private static boolean isAboutAccess(StageRule stage) {
    return Stream.of(stage.ask(), stage.otherwise(), stage.standby(), stage.onTo())
        .flatMap(List::stream)
        .anyMatch(StepReading::isAboutAccess);
  }

  private static boolean isAboutAccess(Deciders deciders) {
    return switch (deciders) {
      case Deciders.Stewards s -> true;
      case Deciders.ApplicationOwners o -> true;
      case Deciders.EntitlementOwners e -> true;
      case Deciders.ConflictOwners c -> true;
      case Deciders.LineManager m -> false;
      case Deciders.ManagersManager m -> false;
      case Deciders.Sponsor s -> false;
      case Deciders.Administrators a -> false;
      case Deciders.OfTeam team -> false;
      case Deciders.OnePerson person -> false;
    };
  }

  private Optional<Action> ticket(String word) {
    var verb = reading.choice("ticket", TicketVerb.OPEN, TicketVerb::word);
    var key = reading.needed("in", "which ticket desk");
    return channel(key, "in", Channel.Kind.TICKETS)
        .flatMap(found -> template("text").map(text -> new Action.Ticket(verb, found, text)));
  }

  private Optional<Action> handOver(String to) {
    if (!to.equals("manager")) {
      reading.problem(
          reading.place("hand-over"),
          "hand-over is “%s”; what somebody looks after goes to their manager: say manager."
              .formatted(to));
    }
    return Optional.of(new Action.HandOver());
  }

  private Optional<Action> erase(String what) {
    if (!what.equals("person")) {
      reading.problem(
          reading.place("erase"),
          "erase is “%s”; say person: all that says who they are is erased, but for their worker number."
              .formatted(what));
    }
    return Optional.of(new Action.Erase());
  }

  private Optional<Whom> whom(String key, String otherwise) {
    var text = reading.text(key, otherwise);
    var whom = Whom.of(text);
    if (whom.isEmpty()) {
      reading.problem(
          reading.place(key), "%s is “%s”; say one of %s.".formatted(key, text, Whom.ALL));
    }
    if (whom.isPresent() && whom.get() instanceof Whom.Holders of && !of.application().isEmpty()) {
      return exists(of.application(), key, "application", applications()).flatMap(found -> whom);
    }
    return whom;
  }

  private Collection<String> applications() {
    return known.all(ApplicationKind.class).keySet();
  }

  private Optional<String> application(String key, String at) {
    return exists(key, at, "application", applications());
  }

  private Optional<String> withPasswords(String key, String at) {
    var found = application(key, at);
    var all = known.all(ApplicationKind.class);
    if (found.map(all::get).filter(each -> !each.can(Ability.PASSWORDS)).isPresent()) {
      reading.problem(
          reading.place(at),
          "Accounts in %s have no password that Glenmoor could set.".formatted(key));
    }
    return found;
  }

  private Optional<String> rolePackage(String key, String at) {
    return exists(key, at, "package", known.all(RolePackageKind.class).keySet());
  }

  private Optional<Letter> letterOf(String key, String at) {
    var letters = known.all(LetterKind.class);
    return exists(key, at, "letter", letters.keySet()).map(letters::get);
  }

  private Optional<String> channel(String key, String at, Channel.Kind kind) {
    var channels = known.all(ChannelKind.class);
    return exists(
        key,
        at,
        "channel of the kind " + kind.word(),
        channels.values().stream().filter(each -> each.kind() == kind).map(Channel::key).toList());
  }

  private Optional<String> exists(String key, String at, String what, Collection<String> all) {
    if (all.contains(key)) {
      return Optional.of(key);
    }
    if (!key.isEmpty()) {
      reading.problem(
          reading.place(at),
          all.isEmpty()
              ? "There is no %s “%s”; none is defined.".formatted(what, key)
              : "There is no %s “%s”; there are %s.".formatted(what, key, String.join(", ", all)));
    }
    return Optional.empty();
  }

  private Optional<Template> template(String key) {
    var template = Template.read(reading, key, "what it says", LONGEST_TEXT, known);
    if (template.filter(each -> each.names(LetterValues.PASSCODE)).isPresent()) {
      reading.problem(reading.place(key), "A passcode is told in a letter only.");
    }
    return template;
  }

  private int days(String key) {
    var days = reading.days(key, 0);
    if (days > MOST_DAYS) {
      reading.problem(reading.place(key), "%s is at most %,d days.".formatted(key, MOST_DAYS));
    }
    return days;
  }

  private Optional<Duration> time(String key, String text) {
    var found = TIME.matcher(text);
    if (!found.matches()) {
      reading.problem(
          reading.place(key),
          "%s is “%s”; say minutes, hours or days, such as 48 hours.".formatted(key, text));
      return Optional.empty();
    }
    var number = Long.parseLong(found.group(1));
    return Optional.of(
        switch (found.group(2)) {
          case "minute" -> Duration.ofMinutes(number);
          case "hour" -> Duration.ofHours(number);
          default -> Duration.ofDays(number);
        });
  }
}
