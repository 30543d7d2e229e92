package glenmoor.engine.access;

import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.conditions.Expressions.Mapping;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.provisioning.Account;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.provisioning.Planning;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** What an application's mappings come to for one person, beside what was last seen there. */
@NullMarked
@Named
public final class MappingPreview {
  /**
   * One thing that is mapped.
   *
   * @param expression as it is defined
   * @param value what it comes to; empty where it gives nothing
   * @param seen what was last seen in the application
   * @param problem why it cannot be made; empty where it can
   */
  public record MappedLine(
      String what, String expression, String value, String seen, String problem) {}

  /**
   * All of it for one person.
   *
   * @param hasAccount whether they have an account there, or are to have one
   */
  public record MappingShown(
      String application, String worker, String name, boolean hasAccount, List<MappedLine> lines) {}

  private final PersonMapper people;
  private final PersonSnapshots snapshots;
  private final Planning planning;
  private final Catalogues catalogues;
  private final KnownApplications applications;

  public MappingPreview(
      PersonMapper people,
      PersonSnapshots snapshots,
      Planning planning,
      Catalogues catalogues,
      KnownApplications applications) {
    this.applications = applications;
    this.people = people;
    this.snapshots = snapshots;
    this.planning = planning;
    this.catalogues = catalogues;
  }

  /**
   * The preview.
   *
   * @throws Refused if there is no such application or person, as far as the actor may know
   */
  public MappingShown of(String key, String worker, Actor actor) {
    var catalogue = catalogues.current();
    var application = applications.of(key, Permission.SEE_APPLICATIONS, actor);
    var row = people.byWorker(worker);
    var snapshot = row == null ? null : snapshots.shown(List.of(row), catalogue).getFirst();
    var account =
        snapshot == null
            ? null
            : snapshot.accounts().stream()
                .filter(each -> each.application().equals(key))
                .filter(each -> each.state() != AccountState.NONE)
                .findFirst()
                .orElse(null);
    // Whoever sees this application alone knows of nobody else.
    if (row == null
        || snapshot == null
        || account == null && !actor.may(Permission.SEE_EVERYBODY)) {
      throw Refused.notThere(
          "There is nobody with the worker number %s whom you may see here.".formatted(worker));
    }
    var names = new HashMap<String, String>();
    snapshot.accounts().stream()
        .filter(each -> each.state() != AccountState.NONE)
        .forEach(each -> names.put(each.application(), each.name()));
    var would = planning.trying(catalogue).tryNames(snapshot.person());
    would.forEach(names::putIfAbsent);
    return new MappingShown(
        key,
        row.workerNumber(),
        row.name(),
        account != null,
        lines(
            application,
            catalogue.expressions().view(snapshot.person()),
            names,
            Optional.ofNullable(account)));
  }

  private static List<MappedLine> lines(
      Application application,
      Map<String, Object> view,
      Map<String, String> names,
      Optional<Account> account) {
    var seen = account.map(Account::seen).orElse(Account.Seen.NOTHING);
    var name = names.getOrDefault(application.key(), "");
    var lines = new ArrayList<MappedLine>();
    lines.add(line("account name", application.accountName(), view, names, name, seen.name()));
    application
        .container()
        .ifPresent(
            mapping -> lines.add(line("container", mapping, view, names, name, seen.container())));
    application
        .attributes()
        .forEach((attribute, mapping) ->
            lines.add(
                line(attribute, mapping, view, names, name, seen.attributes().get(attribute))));
    return lines;
  }

  private static MappedLine line(
      String what,
      Mapping mapping,
      Map<String, Object> view,
      Map<String, String> names,
      String name,
      @Nullable String seen) {
    var last = seen == null ? "" : seen;
    try {
      return new MappedLine(
          what, mapping.text(), mapping.value(view, names, name).orElse(""), last, "");
    } catch (Unanswerable unmade) {
      return new MappedLine(what, mapping.text(), "", last, String.valueOf(unmade.getMessage()));
    }
  }
}
