package glenmoor.store.people;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import java.time.LocalDate;
import java.util.Map;
import java.util.TreeMap;
import tools.jackson.databind.json.JsonMapper;

/** Facts as JSON text, and back. The types come from the definitions, dates are written as text. */
public final class FactsJson {
  private static final JsonMapper JSON = JsonMapper.shared();

  private FactsJson() {}

  /** Writes facts so that equal facts are equal texts. */
  public static String write(Facts facts) {
    return CanonicalJson.write(facts.values());
  }

  /** Reads facts; one that is no longer defined is kept as text. */
  public static Facts read(String json, Map<String, FactDefinition> definitions) {
    var values = new TreeMap<String, Object>();
    JSON.readTree(json)
        .properties()
        .forEach(entry -> {
          var node = entry.getValue();
          var defined = definitions.get(entry.getKey());
          var type = defined == null ? FactType.TEXT : defined.type();
          var text = node.asString();
          Object value =
              switch (type) {
                case TEXT, PERSON -> text;
                case DATE -> LocalDate.parse(text);
                case NUMBER -> node.asLong();
                case YES_NO -> node.asBoolean();
              };
          values.put(entry.getKey(), value);
        });
    return new Facts(values);
  }

  /** The person a row tells of. */
  public static Person person(PersonRow row, Map<String, FactDefinition> definitions) {
    return new Person(
        new PersonId(row.id()),
        new WorkerNumber(row.workerNumber()),
        read(row.facts(), definitions),
        row.absentSince());
  }
}
