package glenmoor.core.reconcile;

import com.google.auto.service.AutoService;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.applications.ConnectorKind;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** {@code reconcile: directory}: when an application is compared, and what is done about drift. */
@AutoService(DefinitionKind.class)
public final class ReconcileKind implements DefinitionKind<ReconcileRule> {
  @Override
  public String word() {
    return "reconcile";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application", "fact");
  }

  /** The rule of an application: as defined, or the usual one. */
  public static ReconcileRule of(String application, Defined known) {
    return known
        .all(ReconcileKind.class)
        .getOrDefault(application, ReconcileRule.usual(application));
  }

  @Override
  public Optional<ReconcileRule> read(String key, Reading reading, Defined known) {
    var at = Schedule.read(reading, "at");
    var responses = new EnumMap<DriftKind, Response>(DriftKind.class);
    for (var kind : DriftKind.values()) {
      response(kind, reading).ifPresent(response -> responses.put(kind, response));
    }
    var application = known.all(ApplicationKind.class).get(key);
    var join =
        reading.map("join").isEmpty()
            ? Optional.<ReconcileRule.Join>empty()
            : join(reading.inside("join"), application, known);
    if (application == null) {
      reading.problem(
          reading.place("reconcile"),
          "“%s” is no application; there are %s."
              .formatted(key, String.join(", ", known.all(ApplicationKind.class).keySet())));
    } else {
      ConnectorKind.ofWord(application.connector())
          .filter(kind -> !kind.can(Ability.LIST_ACCOUNTS))
          .ifPresent(kind ->
              reading.problem(
                  reading.place("reconcile"),
                  "The connector %s of %s cannot %s, so there is nothing to compare."
                      .formatted(kind.word(), key, Ability.LIST_ACCOUNTS.sentence())));
    }
    return Optional.of(new ReconcileRule(key, at, Map.copyOf(responses), join));
  }

  private static Optional<Response> response(DriftKind kind, Reading reading) {
    var text = reading.text(kind.word());
    if (text.isEmpty()) {
      return Optional.empty();
    }
    var response = Response.ofWord(text.get()).filter(kind.responses()::contains);
    if (response.isEmpty()) {
      reading.problem(
          reading.place(kind.word()),
          "%s is “%s”; say one of %s."
              .formatted(
                  kind.word(),
                  text.get(),
                  kind.responses().stream().map(Response::word).collect(Collectors.joining(", "))));
    }
    return response;
  }

  private static Optional<ReconcileRule.Join> join(
      Reading join, @Nullable Application application, Defined known) {
    var attribute = join.needed("attribute", "which attribute of the account tells whose it is");
    var value = new Compiling(join, known).mapping("is");
    join.finish();
    if (application != null
        && !attribute.equals(ReconcileRule.Join.NAME)
        && !application.attributes().containsKey(attribute)) {
      var there = new TreeSet<>(application.attributes().keySet());
      there.add(ReconcileRule.Join.NAME);
      join.problem(
          join.place("attribute"),
          "%s maps no attribute “%s”; there are %s."
              .formatted(application.key(), attribute, String.join(", ", there)));
    }
    return value.map(mapping -> new ReconcileRule.Join(attribute, mapping));
  }

  /** How differences are found and answered changes nobody's access by itself. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
