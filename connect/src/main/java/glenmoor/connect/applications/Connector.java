package glenmoor.connect.applications;

import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Ability;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.SortedMap;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Speaks to one application. Safe for many threads at once.
 *
 * <p>Every order is carried out and then looked at again in the application (read-back): only what
 * was seen there is {@link Outcome.Confirmed}. Carrying out an order twice is the same as once.
 */
public interface Connector extends AutoCloseable {
  /** Says of a native id whether another account than the one in hand has it already. */
  @FunctionalInterface
  interface Owners {
    boolean isOthers(String nativeId);

    /** Where nobody else has anything: for tests. */
    Owners NOBODY = nativeId -> false;
  }

  /**
   * Which account a command is for.
   *
   * @param worker the key by which the application's own record is found again
   * @param seenName what it was called when it was last seen, empty if it never was; a try that was
   *     not noted may have changed that
   * @param seenContainer where it stood then
   * @param nativeId the application's identity for it, empty while unknown
   * @param triedBefore whether an earlier try may have done it already
   * @param justSeen whether it was seen under its native id a moment ago, so that it is there
   * @param handedOverAt when it was written to a file, for connectors whose application takes files
   * @param owners asked before anything is adopted or changed under another native id
   */
  record Target(
      String worker,
      String name,
      String seenName,
      String seenContainer,
      String nativeId,
      boolean triedBefore,
      boolean justSeen,
      @Nullable Instant handedOverAt,
      Owners owners) {}

  /** Whether the application answers, and in how many milliseconds. */
  record Health(boolean well, String sentence, long millis) {}

  /**
   * An account as the application has it.
   *
   * @param reference what {@linkplain Membership memberships} call it
   * @param container where it stands, below where all accounts are; empty without containers
   * @param worker the worker number it carries, empty if none
   * @param attributes those that are mapped and not empty
   * @param lastUsed when it was last used; null where the application does not tell
   */
  record Seen(
      String reference,
      String nativeId,
      String name,
      String container,
      String worker,
      boolean enabled,
      SortedMap<String, String> attributes,
      @Nullable Instant lastUsed) {}

  /** That an account holds a right; {@code kind} is group or role. */
  record Membership(String reference, String kind, String technicalName) {}

  /**
   * Carries out a command and reads back.
   *
   * @param open opens sealed secrets, only for the moment of sending
   */
  Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open);

  /** The answer where accounts look after nothing that Glenmoor could hand over. */
  static Outcome ownsNothing() {
    return new Outcome.Refused("Accounts there look after nothing that Glenmoor could hand over.");
  }

  /** Asks for something small that needs the same rights as the work. */
  Health test();

  /**
   * Looks whether what must be there beforehand is there: bases, containers, groups.
   *
   * @return what the application can do, and a sentence for each thing that is missing
   * @throws CannotRead if the application does not answer
   */
  Findings examine(Collection<Entitlement> entitlements);

  /** What an examination showed. */
  record Findings(List<String> abilities, List<String> missing) {}

  /**
   * Reads all accounts, page by page, those that nobody knows included. What changes meanwhile may
   * be missed, or be given twice.
   *
   * @throws CannotRead if the application stops answering
   */
  void list(Consumer<Seen> each);

  /**
   * Reads who holds what, page by page, for connectors that {@linkplain Ability#LIST_MEMBERSHIPS
   * can}.
   *
   * @throws CannotRead if the application stops answering, or gives only a part
   */
  void memberships(Consumer<Membership> each);

  /**
   * Writes a person's worker number into an account that carries none, so that it is found by it
   * from then on. One that carries another worker number is left alone and refused.
   */
  Outcome claim(String nativeId, String worker);

  /** Deletes an account that carries no worker number, and looks whether it is gone. */
  Outcome deleteStray(String nativeId);

  @Override
  void close();

  /** An application could not be read. */
  final class CannotRead extends RuntimeException {
    public CannotRead(String sentence) {
      super(sentence);
    }
  }
}
