package glenmoor.connect.applications;

import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/**
 * Says in plain words what people are to do: each command becomes a task, and is done when one of
 * them says so.
 */
final class PeopleConnector implements Connector {
  private final String by;

  PeopleConnector(Settings settings) {
    by = settings.text("by", "the application's fixers");
  }

  @Override
  public Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open) {
    var account = "the account %s of %s".formatted(target.name(), target.worker());
    // Somebody may have made it and not said so yet.
    var neverSaid = target.seenName().isEmpty();
    var ifMade = neverSaid ? ", if it was made already" : "";
    return switch (command) {
      case ProvisioningCommand.Create create ->
          task(
              "Make an account called %s for %s%s%s."
                  .formatted(
                      create.name(),
                      target.worker(),
                      create.state() == AccountState.ENABLED ? "" : ", shut for the time being",
                      with(create.attributes())));
      case ProvisioningCommand.Update update ->
          task(
              "Change %s: it is called %s%s."
                  .formatted(account, update.name(), with(update.attributes())));
      case ProvisioningCommand.Enable e -> task("Open %s.".formatted(account));
      case ProvisioningCommand.Disable d -> task("Shut %s%s.".formatted(account, ifMade));
      case ProvisioningCommand.Add add ->
          task("Give “%s” to %s.".formatted(add.technicalName(), account));
      case ProvisioningCommand.Remove remove ->
          neverSaid
              ? new Outcome.Gone("nobody said that the account was made")
              : task("Take “%s” from %s.".formatted(remove.technicalName(), account));
      case ProvisioningCommand.Delete d -> task("Delete %s%s.".formatted(account, ifMade));
      case ProvisioningCommand.HandOver h -> Connector.ownsNothing();
      case ProvisioningCommand.SetPassword s ->
          new Outcome.Refused("Accounts there have no password that Glenmoor could set.");
    };
  }

  private static Outcome task(String what) {
    return new Outcome.ForSomebody(what);
  }

  private static String with(Map<String, String> attributes) {
    return attributes.isEmpty()
        ? ""
        : new TreeMap<>(attributes)
            .entrySet().stream()
                .map(each -> each.getKey() + " " + each.getValue())
                .collect(Collectors.joining(", ", "; with ", ""));
  }

  @Override
  public Health test() {
    return new Health(true, "is worked on by " + by, 0);
  }

  @Override
  public Findings examine(Collection<Entitlement> entitlements) {
    return new Findings(List.of("each change is a task for " + by), List.of());
  }

  @Override
  public void list(Consumer<Seen> each) {
    throw new CannotRead("It has no connector: nobody but people can look into it.");
  }

  @Override
  public void memberships(Consumer<Membership> each) {
    throw new CannotRead("It has no connector: nobody but people can look into it.");
  }

  @Override
  public Outcome claim(String nativeId, String worker) {
    return new Outcome.Refused("It has no connector.");
  }

  @Override
  public Outcome deleteStray(String nativeId) {
    return new Outcome.Refused("It has no connector.");
  }

  @Override
  public void close() {}
}
