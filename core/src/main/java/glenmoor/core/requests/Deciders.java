package glenmoor.core.requests;

import java.util.Optional;
import java.util.regex.Pattern;

/** Who is asked at a stage of a route, seen from the line that is asked for. */
public sealed interface Deciders {
  /** The manager of whom it is for. */
  record LineManager() implements Deciders {}

  /** The manager of that manager. */
  record ManagersManager() implements Deciders {}

  /** Who answers for a partner: their sponsor where facts name one, else their manager. */
  record Sponsor() implements Deciders {}

  /** The stewards of the portfolio that the package is made of. */
  record Stewards() implements Deciders {}

  /** The owners of every application in which the package gives something. */
  record ApplicationOwners() implements Deciders {}

  /** Who answers for each entitlement that it gives, as that says itself. */
  record EntitlementOwners() implements Deciders {}

  /** Who answers for the conflicts that it would cause. */
  record ConflictOwners() implements Deciders {}

  /** The administrators. */
  record Administrators() implements Deciders {}

  /** The members of a team. */
  record OfTeam(String key) implements Deciders {}

  /** One person by their worker number. */
  record OnePerson(String worker) implements Deciders {}

  /** What can be written, as an error names it. */
  String ALL =
      "line-manager, managers-manager, sponsor, stewards, application-owners, entitlement-owners, conflict-owners, administrators, team KEY, person NUMBER";

  Pattern NAMED = Pattern.compile("(team|person) (\\S+)");

  static Optional<Deciders> of(String text) {
    var named = NAMED.matcher(text);
    if (named.matches()) {
      return Optional.of(
          named.group(1).equals("team")
              ? new OfTeam(named.group(2))
              : new OnePerson(named.group(2)));
    }
    return switch (text) {
      case "line-manager" -> Optional.of(new LineManager());
      case "managers-manager" -> Optional.of(new ManagersManager());
      case "sponsor" -> Optional.of(new Sponsor());
      case "stewards" -> Optional.of(new Stewards());
      case "application-owners" -> Optional.of(new ApplicationOwners());
      case "entitlement-owners" -> Optional.of(new EntitlementOwners());
      case "conflict-owners" -> Optional.of(new ConflictOwners());
      case "administrators" -> Optional.of(new Administrators());
      default -> Optional.empty();
    };
  }

  /** The same as it is written in a definition. */
  default String written() {
    return switch (this) {
      case LineManager m -> "line-manager";
      case ManagersManager m -> "managers-manager";
      case Sponsor s -> "sponsor";
      case Stewards s -> "stewards";
      case ApplicationOwners o -> "application-owners";
      case EntitlementOwners e -> "entitlement-owners";
      case ConflictOwners c -> "conflict-owners";
      case Administrators a -> "administrators";
      case OfTeam team -> "team " + team.key();
      case OnePerson person -> "person " + person.worker();
    };
  }
}
