package glenmoor.core.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.Collections;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * A person's record in an application, as it is planned: as it will be once all queued operations
 * are confirmed and all faults mended. Planning compares with this, so that planning twice queues
 * nothing twice. What was last seen in the application is kept beside it.
 *
 * @param baseName the name before numbering
 * @param number 1 for the plain name, 2 and up where others have it, {@link #AS_FOUND} for a name
 *     that was not made here
 * @param name in the application
 * @param container where it is kept; empty for applications without containers
 * @param attributes as mapped, by the application's own names
 * @param unneededSince since when it has been disabled because nobody needs it, or null
 * @param nextSequence the place in the lane that the next operation takes
 * @param unmade whether making it failed or was given up: nothing can be done in it until then
 */
public record Account(
    long id,
    PersonId person,
    String application,
    String baseName,
    int number,
    String name,
    String container,
    SortedMap<String, String> attributes,
    AccountState state,
    SortedSet<String> entitlements,
    @Nullable Instant unneededSince,
    int nextSequence,
    boolean unmade,
    Seen seen) {

  /** The number of a name that an adopted account came with; it stays until its base changes. */
  public static final int AS_FOUND = 0;

  /** What was last seen of it in the application; the name is empty until it was seen once. */
  public record Seen(
      AccountState state,
      String name,
      String container,
      SortedMap<String, String> attributes,
      SortedSet<String> entitlements) {
    public static final Seen NOTHING =
        new Seen(AccountState.NONE, "", "", new TreeMap<>(), new TreeSet<>());

    public Seen {
      attributes = Collections.unmodifiableSortedMap(new TreeMap<>(attributes));
      entitlements = Collections.unmodifiableSortedSet(new TreeSet<>(entitlements));
    }
  }

  public Account {
    attributes = Collections.unmodifiableSortedMap(new TreeMap<>(attributes));
    entitlements = Collections.unmodifiableSortedSet(new TreeSet<>(entitlements));
  }

  /**
   * The same account planned as if one side of it were as it was seen, so that planning finds the
   * difference once more.
   *
   * @param aspect as {@link ProvisioningCommand#aspect} names it
   */
  public Account asSeen(String aspect) {
    var planned = new Planned(this);
    switch (aspect) {
      case ProvisioningCommand.WHOLE -> {
        planned.state = seen.state();
        planned.entitlements = new TreeSet<>(seen.entitlements());
        planned.unmade = false;
      }
      case "content" -> {
        planned.name = seen.name();
        planned.container = seen.container();
        planned.attributes = new TreeMap<>(seen.attributes());
      }
      case "enabled" -> planned.state = seen.state();
      case "password" -> {}
      default -> {
        var key = aspect.substring(aspect.indexOf(':') + 1);
        planned.entitlements.remove(key);
        if (seen.entitlements().contains(key)) {
          planned.entitlements.add(key);
        }
      }
    }
    return planned.account();
  }

  /** The same account, of which something else was seen. */
  public Account seeing(Seen now) {
    return new Account(
        id,
        person,
        application,
        baseName,
        number,
        name,
        container,
        attributes,
        state,
        entitlements,
        unneededSince,
        nextSequence,
        unmade,
        now);
  }

  /** The same account after a command was carried out. */
  public Account after(ProvisioningCommand command) {
    var planned = new Planned(this);
    switch (command) {
      case ProvisioningCommand.Create create -> {
        planned.name = create.name();
        planned.container = create.container();
        planned.attributes = new TreeMap<>(create.attributes());
        planned.state = create.state();
      }
      case ProvisioningCommand.Update update -> {
        planned.name = update.name();
        planned.container = update.container();
        planned.attributes = new TreeMap<>(update.attributes());
      }
      case ProvisioningCommand.Enable e -> planned.state = AccountState.ENABLED;
      case ProvisioningCommand.Disable d -> planned.state = AccountState.DISABLED;
      case ProvisioningCommand.Delete d -> planned.state = AccountState.NONE;
      case ProvisioningCommand.Add add -> planned.entitlements.add(add.entitlement());
      case ProvisioningCommand.Remove remove -> planned.entitlements.remove(remove.entitlement());
      case ProvisioningCommand.SetPassword s -> {}
      case ProvisioningCommand.HandOver h -> {}
    }
    return planned.account();
  }

  /** The parts of an account that a change may touch. */
  private static final class Planned {
    private final Account from;
    private String name;
    private String container;
    private SortedMap<String, String> attributes;
    private AccountState state;
    private TreeSet<String> entitlements;
    private boolean unmade;

    Planned(Account from) {
      this.from = from;
      name = from.name;
      container = from.container;
      attributes = from.attributes;
      state = from.state;
      entitlements = new TreeSet<>(from.entitlements);
      unmade = from.unmade;
    }

    Account account() {
      return new Account(
          from.id,
          from.person,
          from.application,
          from.baseName,
          from.number,
          name,
          container,
          attributes,
          state,
          entitlements,
          from.unneededSince,
          from.nextSequence,
          unmade,
          from.seen);
    }
  }
}
