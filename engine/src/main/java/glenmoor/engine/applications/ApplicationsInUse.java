package glenmoor.engine.applications;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Application;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.engine.definitions.InUse;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.stream.Collectors;

/** Applications that have accounts stay defined. */
@Named
final class ApplicationsInUse implements InUse {
  private final AccountMapper accounts;

  ApplicationsInUse(AccountMapper accounts) {
    this.accounts = accounts;
  }

  @Override
  public List<Use> uses(Catalogue before, Catalogue after) {
    var dropped = before.applications().stream().map(Application::key).collect(Collectors.toSet());
    after.applications().forEach(application -> dropped.remove(application.key()));
    return dropped.isEmpty()
        ? List.of()
        : accounts.accountsIn(dropped).stream().map(ApplicationsInUse::use).toList();
  }

  private static Use use(AccountMapper.Uses uses) {
    var name = new Name("application", uses.key());
    return new Use(
        name,
        "%s cannot be dropped while it has accounts (%d). Drop the birthrights that give access to it first; once the accounts are gone, drop it."
            .formatted(name, uses.accounts()));
  }
}
