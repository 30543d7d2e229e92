package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.ScimPerson;
import glenmoor.core.access.Catalogue;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.engine.Refused;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BiFunction;

/** Writes a person whom a client pushes as the row of a file that the source's definition reads. */
record PushedRows(Source source, Catalogue catalogue, BiFunction<Source, String, String> workerOf) {

  /**
   * A file of one row.
   *
   * @param left whether they are gone: their last day is over then, whatever is said of it
   */
  String text(ScimPerson person, boolean left, LocalDate yesterday) {
    var heading = new ArrayList<>(List.of(source.workerColumn()));
    var cells = new ArrayList<>(List.of(person.text(source.workerColumn())));
    for (var column : source.columns()) {
      if (!column.column().equals(source.workerColumn())) {
        heading.add(column.column());
        cells.add(cell(person, column, left, yesterday));
      }
    }
    if (left && source.columns().stream().noneMatch(PushedRows::isEnd)) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "The source has no column for the last day, so nobody can be told to have left.");
    }
    return OneRow.text(source, List.of(heading, cells));
  }

  private String cell(ScimPerson person, Source.Column column, boolean left, LocalDate yesterday) {
    var said = person.text(column.column());
    if (isEnd(column) && left) {
      return !said.isEmpty() && said.compareTo(yesterday.toString()) < 0
          ? said
          : yesterday.toString();
    }
    return said.isEmpty() || !isPerson(column) ? said : workerOf.apply(source, said);
  }

  private boolean isPerson(Source.Column column) {
    var fact = catalogue.facts().get(column.fact());
    return fact != null && fact.type() == FactType.PERSON;
  }

  private static boolean isEnd(Source.Column column) {
    return column.fact().equals(Facts.END);
  }
}
