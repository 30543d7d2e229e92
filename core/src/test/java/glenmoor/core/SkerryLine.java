package glenmoor.core;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definitions;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Tree;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.yaml.snakeyaml.DumperOptions;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.constructor.SafeConstructor;
import org.yaml.snakeyaml.representer.Representer;
import org.yaml.snakeyaml.resolver.Resolver;

/** A small Skerry Line: enough facts, applications, packages and people for a test to read well. */
public final class SkerryLine {
  public static final ZoneId ZONE = ZoneId.of("Atlantic/Faroe");
  public static final LocalDate TODAY = LocalDate.of(2027, 3, 1);
  public static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");

  private SkerryLine() {}

  /** A map in the order given. */
  public static Map<String, Object> map(Object... keysAndValues) {
    var map = new LinkedHashMap<String, Object>();
    for (var i = 0; i < keysAndValues.length; i += 2) {
      map.put(keysAndValues[i].toString(), keysAndValues[i + 1]);
    }
    return map;
  }

  private static Map<String, Object> fact(String key, String type, String onChange) {
    return map("fact", key, "type", type, "on-change", onChange, "longest", "40");
  }

  /** What is defined, as the documents of a file. */
  public static List<Map<String, Object>> documents() {
    return new ArrayList<>(
        List.of(
            fact("given", "text", "correction"),
            fact("family", "text", "correction"),
            map(
                "fact",
                "department",
                "type",
                "text",
                "on-change",
                "move",
                "shown",
                List.of("grouping", "subtitle")),
            fact("grade", "number", "move"),
            fact("manager", "person", "correction"),
            fact("start", "date", "correction"),
            fact("end", "date", "correction"),
            fact("leaveFrom", "date", "correction"),
            fact("leaveTo", "date", "correction"),
            map(
                "source", "people-office",
                "worker", "Worker",
                "columns",
                    map(
                        "Given", "given",
                        "Family", "family",
                        "Department", map("fact", "department", "values", map("D", "Deck")),
                        "Grade", "grade",
                        "Manager", "manager",
                        "Start", "start",
                        "End", "end")),
            map(
                "application",
                "directory",
                "connector",
                "ldap",
                "account",
                map(
                    "name", "fold(person.family) + fold(person.given).substring(0, 1)",
                    "rename", "on-change",
                    "container", "\"ou=\" + slug(person.department)",
                    "attributes", map("cn", "person.name", "title", "person.department")),
                "care",
                map(
                    "ready", "7 days",
                    "on-leave", "disable",
                    "hold", "45 days",
                    "after-hold", "delete")),
            map(
                "application", "chartshare",
                "connector", "scim",
                "account", map("name", "accounts[\"directory\"] + \"@skerryline.example\""),
                "after", List.of("directory"),
                "care", map("on-leave", "keep")),
            map("entitlement", "directory/crew", "name", "All crew"),
            map("entitlement", "directory/deck", "name", "Deck list"),
            map("entitlement", "directory/engine", "name", "Engine list"),
            map("entitlement", "chartshare/charts", "name", "Sea charts"),
            map("package", "start-kit", "entitlements", List.of("directory/crew")),
            map(
                "package", "deck",
                "name", "Deck work",
                "entitlements", List.of("directory/deck", "chartshare/charts")),
            map("package", "engine", "entitlements", List.of("directory/engine")),
            map("birthright", "everyone", "package", "start-kit", "where", "true"),
            map(
                "birthright", "deck",
                "package", "deck",
                "where", "person.department == \"Deck\"",
                "grace", "7 days"),
            map(
                "birthright", "engine",
                "package", "engine",
                "where", "person.department == \"Engine\"")));
  }

  public static Catalogue.Result read(List<Map<String, Object>> documents) {
    var problems = new ArrayList<Problem>();
    var definitions = new ArrayList<Definition>();
    var line = 1;
    for (var document : documents) {
      var tree = (Tree.Fields) Tree.of(document, new Tree.Place("skerry.yaml", line++));
      Definitions.document(tree, problems).ifPresent(definitions::add);
    }
    var result = Catalogue.read(definitions, 1, ZONE);
    problems.addAll(result.problems());
    return new Catalogue.Result(result.catalogue(), problems);
  }

  /** As definition files are read: everything is a text, on is no yes. */
  private static Yaml texts() {
    var resolver =
        new Resolver() {
          @Override
          protected void addImplicitResolvers() {
            // None.
          }
        };
    var dumping = new DumperOptions();
    return new Yaml(
        new SafeConstructor(new LoaderOptions()),
        new Representer(dumping),
        dumping,
        new LoaderOptions(),
        resolver);
  }

  /** What is wrong with these documents, beside those there are. */
  @SuppressWarnings("unchecked")
  public static List<Problem> problems(String yaml) {
    var documents = documents();
    texts().loadAll(yaml).forEach(each -> documents.add((Map<String, Object>) each));
    return read(documents).problems();
  }

  /** Read once: reading it for each of thousands of plans would take a minute. */
  private static final Catalogue CATALOGUE = read(documents()).catalogue().orElseThrow();

  public static Catalogue catalogue() {
    return CATALOGUE;
  }

  /** Una Kerrow with these facts besides her name and a start long ago. */
  public static Person una(Object... facts) {
    var values = new TreeMap<String, Object>();
    values.put("given", "Una");
    values.put("family", "Kerrow");
    values.put("start", LocalDate.of(2026, 5, 1));
    map(facts).forEach(values::put);
    return new Person(new PersonId(7), new WorkerNumber("W-01007"), new Facts(values), null);
  }
}
