package glenmoor.engine.people;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.ExportedList;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** People with all their facts, as a file. */
@Named
final class PeopleExport implements ExportedList {
  private static final int PAGE = 500;
  private static final List<String> OWN = List.of("text", "standing", "source", "sort");

  private final PeopleService people;

  PeopleExport(PeopleService people) {
    this.people = people;
  }

  @Override
  public String name() {
    return "people";
  }

  @Override
  public Optional<Permission> needs() {
    return Optional.empty();
  }

  @Override
  public List<String> filters() {
    var filters = new ArrayList<>(OWN);
    people.facts().forEach(fact -> filters.add(fact.key()));
    return filters;
  }

  @Override
  public void each(Map<String, String> filters, Actor actor, Consumer<List<String>> line) {
    if (!actor.may(Permission.SEE_EVERYBODY) && actor.worker() == null) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED, "You see nobody, so there is nothing to export.");
    }
    var facts = people.facts().stream().map(PeopleService.Fact::key).sorted().toList();
    var heading = new ArrayList<>(List.of("worker", "name", "standing"));
    heading.addAll(facts);
    line.accept(heading);
    var asked = new TreeMap<>(filters);
    asked.keySet().removeAll(OWN);
    @Nullable String after = null;
    do {
      var page =
          people.list(
              new PeopleService.Search(
                  filters.get("text"),
                  asked,
                  filters.get("standing"),
                  filters.get("source"),
                  filters.get("sort"),
                  after,
                  PAGE,
                  false),
              actor);
      for (var each : page.items()) {
        var row = new ArrayList<>(List.of(each.worker(), each.name(), each.standing()));
        facts.forEach(fact -> row.add(text(each.facts().get(fact))));
        line.accept(row);
      }
      after = page.next();
    } while (after != null);
  }

  private static String text(@Nullable Object value) {
    return switch (value) {
      case null -> "";
      case LocalDate date -> date.toString();
      default -> value.toString();
    };
  }
}
