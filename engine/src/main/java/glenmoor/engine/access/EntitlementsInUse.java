package glenmoor.engine.access;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.engine.definitions.InUse;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** Entitlements that accounts have stay defined, under their technical names. */
@Named
@NullMarked
final class EntitlementsInUse implements InUse {
  private final AccountMapper accounts;

  EntitlementsInUse(AccountMapper accounts) {
    this.accounts = accounts;
  }

  @Override
  public List<Use> uses(Catalogue before, Catalogue after) {
    var gone =
        before.entitlements().values().stream()
            .filter(was -> !same(was, after.entitlements().get(was.key())))
            .map(Entitlement::key)
            .collect(Collectors.toSet());
    return gone.isEmpty()
        ? List.of()
        : accounts.holdersOf(gone).stream().map(EntitlementsInUse::use).toList();
  }

  private static boolean same(Entitlement was, @Nullable Entitlement is) {
    return is != null
        && is.technicalName().equals(was.technicalName())
        && is.kind().equals(was.kind());
  }

  private static Use use(AccountMapper.Uses uses) {
    var name = new Name("entitlement", uses.key());
    return new Use(
        name,
        "%s cannot be dropped, nor get another technical name or kind, while %s it. Take it out of its packages first; once it is taken away, change it."
            .formatted(
                name,
                uses.accounts() == 1 ? "one account has" : uses.accounts() + " accounts have"));
  }
}
