package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.Whom;
import glenmoor.engine.letters.Occasion;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Collectors;

/** Who it is that a step turns to, at this moment. */
@Named
final class Addressees {
  private final DutyMapper duties;
  private final PersonMapper people;

  Addressees(DutyMapper duties, PersonMapper people) {
    this.duties = duties;
    this.people = people;
  }

  /** Those people; empty where there is nobody. */
  List<PersonRow> of(Whom whom, Occasion about, LocalDate today) {
    return switch (whom) {
      case Whom.Themselves themselves -> List.of(about.row());
      case Whom.Manager manager -> about.manager().stream().toList();
      case Whom.Holders holders -> {
        var ids =
            duties.holders(holders.duty().word(), "application", holders.application(), today);
        yield ids.isEmpty() ? List.of() : people.byIds(ids);
      }
    };
  }

  /** Why there is nobody, as a sentence. */
  static String nobody(Whom whom, Occasion about) {
    return whom instanceof Whom.Manager
        ? "%s has no manager who is here.".formatted(about.row().name())
        : "There is nobody to turn to: no %s.".formatted(whom.written());
  }

  static String names(List<PersonRow> rows) {
    return rows.stream().map(PersonRow::name).collect(Collectors.joining(", "));
  }
}
