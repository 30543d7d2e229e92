package glenmoor.core.provisioning;

import glenmoor.core.applications.AccountState;
import java.util.Map;

/**
 * What an operation is to bring about. Each says how things shall be, never by how much they shall
 * change, so that carrying one out twice is the same as once.
 */
public sealed interface ProvisioningCommand {
  /** The aspect of a command that settles whether the account is there at all. */
  String WHOLE = "account";

  /** The account shall exist with this name, place and content. */
  record Create(String name, String container, Map<String, String> attributes, AccountState state)
      implements ProvisioningCommand {}

  /** The account shall have this name, place and content; absent attributes shall be empty. */
  record Update(String name, String container, Map<String, String> attributes)
      implements ProvisioningCommand {}

  record Enable() implements ProvisioningCommand {}

  record Disable() implements ProvisioningCommand {}

  /** The account shall hold the entitlement. */
  record Add(String entitlement, String technicalName, String kind)
      implements ProvisioningCommand {}

  /** The account shall not hold the entitlement. */
  record Remove(String entitlement, String technicalName, String kind)
      implements ProvisioningCommand {}

  /**
   * The account shall accept this password; it travels sealed and is opened only to be sent.
   *
   * @param unless the mark of the password that it replaces: with another one in its place, nothing
   *     is done; empty to do it whatever there is
   */
  record SetPassword(String sealed, String unless) implements ProvisioningCommand {
    public SetPassword(String sealed) {
      this(sealed, "");
    }
  }

  /**
   * What the account owns there besides rights of its own, such as groups that it looks after,
   * shall be another person's.
   *
   * @param toWorker the worker number of who gets it
   */
  record HandOver(String toWorker) implements ProvisioningCommand {}

  /** The account shall be gone. */
  record Delete() implements ProvisioningCommand {}

  /** The word for this kind of operation. */
  default String word() {
    return switch (this) {
      case Create c -> "create";
      case Update u -> "update";
      case Enable e -> "enable";
      case Disable d -> "disable";
      case Add a -> "add";
      case Remove r -> "remove";
      case SetPassword s -> "set-password";
      case HandOver h -> "hand-over";
      case Delete d -> "delete";
    };
  }

  /**
   * Which side of the account it settles. Of two commands about the same side the later one counts;
   * one about the {@linkplain #WHOLE whole} account settles every side.
   */
  default String aspect() {
    return switch (this) {
      case Create c -> WHOLE;
      case Delete d -> WHOLE;
      case Update u -> "content";
      case Enable e -> "enabled";
      case Disable d -> "enabled";
      case SetPassword s -> "password";
      case HandOver h -> "owned";
      case Add a -> "entitlement:" + a.entitlement();
      case Remove r -> "entitlement:" + r.entitlement();
    };
  }

  /** Whether it only takes away, so that an account that is not there needs no more. */
  default boolean takesAway() {
    return switch (this) {
      case Disable d -> true;
      case Remove r -> true;
      case Delete d -> true;
      case HandOver h -> true;
      case Create c -> false;
      case Update u -> false;
      case Enable e -> false;
      case Add a -> false;
      case SetPassword s -> false;
    };
  }

  /** Whether what comes after it in the lane makes no sense unless it was done. */
  default boolean opensLane() {
    return this instanceof Create;
  }
}
