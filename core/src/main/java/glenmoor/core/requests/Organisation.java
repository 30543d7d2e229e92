package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Who is who around one line of a request at a moment.
 *
 * @param subject whom it is for
 * @param asker who asks; null where that is no person
 * @param holders who is asked as what, whether they are here or not
 * @param members what is known of each of them, of their managers and of their deputies
 */
public record Organisation(
    PersonId subject,
    @Nullable PersonId asker,
    Map<Deciders, List<PersonId>> holders,
    Map<PersonId, Member> members) {
  /**
   * Somebody who may be asked.
   *
   * @param here whether they work here at this moment
   * @param manager null where they have none
   * @param deputy who acts for them while they are away; null while they are not
   * @param away whether they are away
   */
  public record Member(
      boolean here, @Nullable PersonId manager, boolean away, @Nullable PersonId deputy) {}

  /**
   * Somebody who is asked.
   *
   * @param named who is meant
   * @param person who acts: the same, or who stands in for them
   */
  public record Named(PersonId named, PersonId person) {}

  /** Who is asked; empty where there is nobody of them who could act. */
  public List<Named> asked(List<Deciders> who) {
    var found = new ArrayList<Named>();
    for (var deciders : who) {
      for (var named : holders.getOrDefault(deciders, List.of())) {
        // Whoever asks, or gets it, has no say, and neither has anybody in their place.
        if (!concerned(named) && found.stream().noneMatch(each -> each.named().equals(named))) {
          standIn(named).ifPresent(person -> found.add(new Named(named, person)));
        }
      }
    }
    return found;
  }

  /** Whether the manager of whom it is for asks for it, so that they need not be asked. */
  public boolean managerAsks(List<Deciders> who) {
    return asker != null
        && !asker.equals(subject)
        && who.stream()
            .filter(Deciders.LineManager.class::isInstance)
            .anyMatch(each -> holders.getOrDefault(each, List.of()).contains(asker));
  }

  private boolean concerned(PersonId person) {
    return person.equals(subject) || person.equals(asker);
  }

  /**
   * Who acts for somebody: they themselves while they are here, else their deputy, else their
   * manager, and so on from there.
   */
  public Optional<PersonId> standIn(PersonId person) {
    return standIn(person, new HashSet<>());
  }

  private Optional<PersonId> standIn(@Nullable PersonId person, Set<PersonId> seen) {
    if (person == null || !seen.add(person)) {
      return Optional.empty();
    }
    var member = members.get(person);
    if (member == null) {
      return Optional.empty();
    }
    if (member.here() && !member.away() && !concerned(person)) {
      return Optional.of(person);
    }
    return (member.here() ? standIn(member.deputy(), seen) : Optional.<PersonId>empty())
        .or(() -> standIn(member.manager(), seen));
  }
}
