package glenmoor.store.people;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
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

  /**
   * Reads facts; one that is no longer defined, or of another type by now, is kept as text, so that
   * lists and feeds go on.
   */
  public static Facts read(String json, Map<String, FactDefinition> definitions) {
    return read(json, definitions, true);
  }

  private static Facts read(String json, Map<String, FactDefinition> definitions, boolean goingOn) {
    var values = new TreeMap<String, Object>();
    JSON.readTree(json)
        .properties()
        .forEach(entry -> {
          var node = entry.getValue();
          var defined = definitions.get(entry.getKey());
          var type = defined == null ? FactType.TEXT : defined.type();
          var text = node.asString();
          var value = type.read(text);
          if (value.isEmpty() && !goingOn) {
            throw new Unreadable(entry.getKey(), type);
          }
          values.put(entry.getKey(), value.orElse(text));
        });
    return new Facts(values);
  }

  /** Reads facts as the texts that a record says, by key; the map may be changed. */
  public static Map<String, String> texts(String json, Map<String, FactDefinition> definitions) {
    var texts = new TreeMap<String, String>();
    read(json, definitions)
        .values()
        .forEach((fact, value) -> texts.put(fact, String.valueOf(value)));
    return texts;
  }

  /** A fact that was kept is of another type by now: nothing may be decided by it. */
  public static final class Unreadable extends RuntimeException {
    private static final long serialVersionUID = 1;

    Unreadable(String fact, FactType type) {
      super("The fact %s does not hold %s".formatted(fact, type.expectation()));
    }
  }

  /**
   * The person a row tells of, to decide by.
   *
   * @throws Unreadable if a fact is not of its type
   */
  public static Person exactPerson(PersonRow row, Map<String, FactDefinition> definitions) {
    return new Person(
        new PersonId(row.id()),
        new WorkerNumber(row.workerNumber()),
        read(row.facts(), definitions, false),
        row.absentSince(),
        row.cutOffOn(),
        row.erasedOn());
  }

  /** The person a row tells of, to show or to compare. */
  public static Person person(PersonRow row, Map<String, FactDefinition> definitions) {
    return new Person(
        new PersonId(row.id()),
        new WorkerNumber(row.workerNumber()),
        read(row.facts(), definitions),
        row.absentSince(),
        row.cutOffOn(),
        row.erasedOn());
  }
}
