package glenmoor.core.playbooks;

import glenmoor.core.authorization.Duty;
import java.util.Optional;
import java.util.regex.Pattern;

/** To whom a step turns, seen from the person its run is about. */
public sealed interface Whom {
  /** The person themselves. */
  record Themselves() implements Whom {}

  /** Their manager, as their facts name one at that moment. */
  record Manager() implements Whom {}

  /**
   * Everybody who has a duty at that moment.
   *
   * @param application for which; empty where it is given for everything
   */
  record Holders(Duty duty, String application) implements Whom {}

  /** What can be written, as an error names it. */
  String ALL = "person, manager, administrators, people desk, owners of …, fixers of …";

  Pattern OF = Pattern.compile("(owners|fixers) of (\\S+)");

  static Optional<Whom> of(String text) {
    var of = OF.matcher(text);
    if (of.matches()) {
      return Optional.of(
          new Holders(
              of.group(1).equals("owners") ? Duty.APPLICATION_OWNER : Duty.FIXER, of.group(2)));
    }
    return switch (text) {
      case "person" -> Optional.of(new Themselves());
      case "manager" -> Optional.of(new Manager());
      case "administrators" -> Optional.of(new Holders(Duty.ADMINISTRATOR, ""));
      case "people desk" -> Optional.of(new Holders(Duty.PEOPLE_DESK, ""));
      default -> Optional.empty();
    };
  }

  /** The same as it is written in a definition. */
  default String written() {
    return switch (this) {
      case Themselves t -> "person";
      case Manager m -> "manager";
      case Holders holders ->
          switch (holders.duty()) {
            case APPLICATION_OWNER -> "owners of " + holders.application();
            case FIXER -> "fixers of " + holders.application();
            case PEOPLE_DESK -> "people desk";
            case ADMINISTRATOR,
                AUDITOR,
                SOURCE_CLIENT,
                STEWARD,
                BUNDLER,
                CONFLICT_OWNER,
                CAMPAIGN_LEAD ->
                "administrators";
          };
    };
  }
}
