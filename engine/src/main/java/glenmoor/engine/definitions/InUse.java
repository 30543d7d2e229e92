package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definition.Kind;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.definitions.Problem;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Keeps definitions of what somebody has: without its definition, nobody could take a right away
 * any more, and under another technical name another right would be taken.
 */
@Named
public final class InUse {
  private final AccountMapper accounts;
  private final PersonMapper people;

  public InUse(AccountMapper accounts, PersonMapper people) {
    this.accounts = accounts;
    this.people = people;
  }

  /** What must not be dropped, or called otherwise, as long as accounts have it. */
  List<Problem> problems(
      Catalogue before, Catalogue after, Map<Name, Definition> said, Map<Name, Definition> known) {
    var problems = new ArrayList<Problem>();
    var applications =
        before.applications().stream().map(Application::key).collect(Collectors.toSet());
    after.applications().forEach(application -> applications.remove(application.key()));
    if (!applications.isEmpty()) {
      for (var uses : accounts.accountsIn(applications)) {
        var name = new Name(Kind.APPLICATION, uses.key());
        problems.add(
            problem(
                name,
                "%s cannot be dropped while it has accounts (%d). Drop the birthrights that give access to it first; once the accounts are gone, drop it."
                    .formatted(name, uses.accounts()),
                said,
                known));
      }
    }
    var sources = new HashSet<>(before.sources().keySet());
    sources.removeAll(after.sources().keySet());
    if (!sources.isEmpty()) {
      for (var uses : people.countOfSources(sources)) {
        var name = new Name(Kind.SOURCE, uses.value());
        problems.add(
            problem(
                name,
                "%s cannot be dropped while it has people (%,d): nobody could tell any more when they leave. Let another source bring them first, once they have left here."
                    .formatted(name, uses.people()),
                said,
                known));
      }
    }
    var rights = gone(before, after);
    if (!rights.isEmpty()) {
      for (var uses : accounts.holdersOf(rights)) {
        var name = new Name(Kind.ENTITLEMENT, uses.key());
        problems.add(
            problem(
                name,
                "%s cannot be dropped, nor get another technical name or kind, while %s it. Take it out of its packages first; once it is taken away, change it."
                    .formatted(
                        name,
                        uses.accounts() == 1
                            ? "one account has"
                            : uses.accounts() + " accounts have"),
                said,
                known));
      }
    }
    return problems;
  }

  private static Set<String> gone(Catalogue before, Catalogue after) {
    return before.entitlements().values().stream()
        .filter(was -> !same(was, after.entitlements().get(was.key())))
        .map(Entitlement::key)
        .collect(Collectors.toSet());
  }

  private static boolean same(Entitlement was, @Nullable Entitlement is) {
    return is != null
        && is.technicalName().equals(was.technicalName())
        && is.kind().equals(was.kind());
  }

  private static Problem problem(
      Name name, String sentence, Map<Name, Definition> said, Map<Name, Definition> known) {
    var where = said.getOrDefault(name, known.get(name));
    return new Problem(Objects.requireNonNull(where).body().place(), sentence);
  }
}
