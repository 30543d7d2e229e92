package glenmoor.core.campaigns;

import java.util.Optional;
import java.util.regex.Pattern;

/** Who judges an item, seen from the item. */
public sealed interface Reviewers {
  /** The manager of whom it belongs to. */
  record LineManagers() implements Reviewers {}

  /** Who answers for a partner: their sponsor, else their manager. */
  record Sponsors() implements Reviewers {}

  /** Who holds it. */
  record Holders() implements Reviewers {}

  /** Who owns the application it is in. */
  record ApplicationOwners() implements Reviewers {}

  /** Who answers for the entitlement, as that says; else who owns the application. */
  record EntitlementOwners() implements Reviewers {}

  /** The stewards of the package's portfolio. */
  record Stewards() implements Reviewers {}

  /** Those who lead the campaign. */
  record Leads() implements Reviewers {}

  /** The members of a team. */
  record OfTeam(String key) implements Reviewers {}

  /** One person by their worker number. */
  record OnePerson(String worker) implements Reviewers {}

  /** What can be written, as an error names it. */
  String ALL =
      "line-managers, sponsors, holders, application-owners, entitlement-owners, stewards, leads, team KEY, person NUMBER";

  Pattern NAMED = Pattern.compile("(team|person) (\\S+)");

  static Optional<Reviewers> of(String text) {
    var named = NAMED.matcher(text);
    if (named.matches()) {
      return Optional.of(
          named.group(1).equals("team")
              ? new OfTeam(named.group(2))
              : new OnePerson(named.group(2)));
    }
    return switch (text) {
      case "line-managers" -> Optional.of(new LineManagers());
      case "sponsors" -> Optional.of(new Sponsors());
      case "holders" -> Optional.of(new Holders());
      case "application-owners" -> Optional.of(new ApplicationOwners());
      case "entitlement-owners" -> Optional.of(new EntitlementOwners());
      case "stewards" -> Optional.of(new Stewards());
      case "leads" -> Optional.of(new Leads());
      default -> Optional.empty();
    };
  }

  /** The same as it is written in a definition. */
  default String written() {
    return switch (this) {
      case LineManagers m -> "line-managers";
      case Sponsors s -> "sponsors";
      case Holders h -> "holders";
      case ApplicationOwners o -> "application-owners";
      case EntitlementOwners e -> "entitlement-owners";
      case Stewards s -> "stewards";
      case Leads l -> "leads";
      case OfTeam team -> "team " + team.key();
      case OnePerson person -> "person " + person.worker();
    };
  }

  /** In words, as a page says it. */
  default String words() {
    return switch (this) {
      case LineManagers m -> "line managers";
      case Sponsors s -> "sponsors";
      case Holders h -> "those who hold it";
      case ApplicationOwners o -> "application owners";
      case EntitlementOwners e -> "entitlement owners";
      case Stewards s -> "stewards of its portfolio";
      case Leads l -> "those who lead the campaign";
      case OfTeam team -> "team " + team.key();
      case OnePerson person -> person.worker();
    };
  }
}
