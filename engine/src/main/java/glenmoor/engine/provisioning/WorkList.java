package glenmoor.engine.provisioning;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonMapper.TroubleRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;

/** People about whom something could not be computed, with the sentence that says what. */
final class WorkList {
  private static final int LONGEST_PLACE = 200;
  private static final int LONGEST_SENTENCE = 1_000;

  /** In the place of a rule or mapping: the person could not be planned at all. */
  static final String ALL_OF_IT = "";

  private final PersonMapper people;
  private final Ledger ledger;

  WorkList(PersonMapper people, Ledger ledger) {
    this.people = people;
    this.ledger = ledger;
  }

  /** Keeps what planning met with for these people, and strikes off what is mended. */
  void keep(List<PersonPlan> plans, Instant now) {
    var persons = plans.stream().map(plan -> plan.person().id().value()).toList();
    var known = new HashMap<String, TroubleRow>();
    people.troublesOf(persons).forEach(row -> known.put(row.personId() + row.place(), row));
    var rows = new ArrayList<TroubleRow>();
    var entries = new ArrayList<LedgerEntry>();
    for (var plan : plans) {
      var places = new HashSet<String>();
      for (var trouble : plan.troubles()) {
        var id = plan.person().id().value();
        var place = cut(trouble.where(), LONGEST_PLACE);
        if (places.add(place)) {
          var before = known.get(id + place);
          rows.add(
              new TroubleRow(
                  id,
                  place,
                  cut(trouble.sentence(), LONGEST_SENTENCE),
                  before == null ? now : before.since()));
          if (before == null) {
            entries.add(entry("person:" + plan.person().worker(), place, trouble.sentence(), now));
          }
        }
      }
    }
    if (!known.isEmpty()) {
      people.clearTroubles(persons);
    }
    if (!rows.isEmpty()) {
      people.addTroubles(rows);
      ledger.append(entries);
    }
  }

  void setAside(long person, String sentence, Instant now) {
    people.addTroubles(List.of(new TroubleRow(person, ALL_OF_IT, sentence, now)));
    var worker = people.byIds(List.of(person)).getFirst().workerNumber();
    ledger.append(
        new LedgerEntry(
            now,
            "glenmoor",
            "",
            "person:" + worker,
            "person-set-aside",
            Map.of(),
            Map.of("reason", sentence)));
  }

  private static LedgerEntry entry(String subject, String place, String sentence, Instant now) {
    return new LedgerEntry(
        now, "glenmoor", place, subject, "not-computed", Map.of(), Map.of("reason", sentence));
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest - 1) + "…" : text;
  }
}
