package glenmoor.core.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.access.Revocation;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Tells for each command of a plan what it follows from: the grant that gives or gave an
 * entitlement, the revocation that takes it, the standing of the person, an order of a playbook, a
 * hold that is over, or a fact behind a mapping.
 */
final class Causes {
  private final PersonSnapshot snapshot;
  private final List<Grant> before;
  private final List<Grant> grants;
  private final Standing standing;
  private final Catalogue catalogue;
  private final Instant now;

  /**
   * @param before grants once they are amended, with all that they give
   * @param grants the same, without what is revoked
   */
  Causes(
      PersonSnapshot snapshot,
      List<Grant> before,
      List<Grant> grants,
      Catalogue catalogue,
      Instant now) {
    this.snapshot = snapshot;
    this.before = before;
    this.grants = grants;
    this.catalogue = catalogue;
    this.now = now;
    standing = Standing.of(snapshot.person(), now.atZone(catalogue.zone()).toLocalDate());
  }

  /** One for each command, in their order. */
  List<Cause> of(AccountPlan plan) {
    return plan.commands().stream().map(command -> of(command, plan)).toList();
  }

  private Cause of(ProvisioningCommand command, AccountPlan plan) {
    return switch (command) {
      case ProvisioningCommand.Add add -> added(add.entitlement());
      case ProvisioningCommand.Remove remove -> removed(remove.entitlement());
      case ProvisioningCommand.Create create -> made(plan);
      case ProvisioningCommand.Update update -> Cause.FACTS;
      case ProvisioningCommand.Enable enable -> opened(plan);
      case ProvisioningCommand.Disable disable -> shut(plan);
      case ProvisioningCommand.Delete delete -> deleted(plan);
      case ProvisioningCommand.SetPassword password -> Cause.TRIGGER;
      case ProvisioningCommand.HandOver handOver -> Cause.TRIGGER;
    };
  }

  private Cause added(String key) {
    return grants.stream()
        .filter(grant -> grant.inForce(now) && gives(grant, key))
        .max(Comparator.comparing(Grant::startsAt))
        .map(grant -> Cause.begins(grant, catalogue))
        .orElse(Cause.TRIGGER);
  }

  private Cause removed(String key) {
    return gone()
        .or(() -> revoked(key))
        .or(() ->
            before.stream()
                .filter(grant -> grant.over(now) && gives(grant, key))
                .max(Comparator.comparing(grant -> Optional.ofNullable(grant.endsAt()).orElse(now)))
                .map(grant -> Cause.ends(grant, endsNow(grant), catalogue)))
        .orElse(Cause.TRIGGER);
  }

  /** Whether this very plan ends it: by what is known of the person now. */
  private boolean endsNow(Grant grant) {
    return snapshot.grants().stream()
        .anyMatch(stored -> stored.id() == grant.id() && !stored.over(now));
  }

  private Optional<Cause> revoked(String key) {
    return snapshot.revocations().stream()
        .filter(each -> each.inForce(now))
        .filter(each ->
            switch (each.target()) {
              case Target.OfEntitlement one -> one.key().equals(key);
              case Target.OfPackage bundle ->
                  before.stream().anyMatch(grant -> takes(each, bundle, grant, key));
            })
        .max(Comparator.comparing(Revocation::from))
        .map(Cause::of);
  }

  private boolean takes(Revocation revocation, Target bundle, Grant grant, String key) {
    return grant.target().equals(bundle)
        && revocation.holdsAgainst(grant)
        && before.stream()
            .filter(each -> each.basisKey().equals(grant.basisKey()))
            .anyMatch(each -> gives(each, key));
  }

  /** Whoever is not here has nothing, whatever gave it. */
  private Optional<Cause> gone() {
    return switch (standing) {
      case LEFT, ERASED ->
          Optional.of(snapshot.person().cutOff() == null ? Cause.of(standing) : Cause.cutOff());
      case EXPECTED -> Optional.of(Cause.of(standing));
      case ACTIVE, ON_LEAVE -> Optional.empty();
    };
  }

  private Cause made(AccountPlan plan) {
    return standing == Standing.EXPECTED
        ? Cause.of(standing)
        : plan.after().entitlements().stream().findFirst().map(this::added).orElse(Cause.TRIGGER);
  }

  private Cause opened(AccountPlan plan) {
    var unneeded = plan.before().map(Account::unneededSince).isPresent();
    var added =
        plan.commands().stream()
            .filter(ProvisioningCommand.Add.class::isInstance)
            .map(command -> added(((ProvisioningCommand.Add) command).entitlement()))
            .findFirst();
    return unneeded && added.isPresent() ? added.get() : Cause.of(standing);
  }

  private Cause shut(AccountPlan plan) {
    if (ordered(plan, AccountOrder.Kind.DISABLE)) {
      return Cause.of(AccountOrder.Kind.DISABLE);
    }
    return gone()
        .or(() -> Stream.of(standing).filter(Standing.ON_LEAVE::equals).map(Cause::of).findFirst())
        .or(() ->
            plan.before().stream()
                .flatMap(account -> account.entitlements().stream())
                .map(this::removed)
                .findFirst())
        .orElse(Cause.TRIGGER);
  }

  /** What is not held at all goes for what it is shut for. */
  private Cause deleted(AccountPlan plan) {
    if (ordered(plan, AccountOrder.Kind.DELETE)) {
      return Cause.of(AccountOrder.Kind.DELETE);
    }
    return plan.before().map(Account::unneededSince).isPresent() ? Cause.HOLD_OVER : shut(plan);
  }

  private boolean ordered(AccountPlan plan, AccountOrder.Kind kind) {
    return snapshot.ordered(plan.after().application(), kind).isPresent();
  }

  private boolean gives(Grant grant, String key) {
    return catalogue.given(grant).map(Entitlement::key).anyMatch(key::equals);
  }
}
