package glenmoor.core.conditions;

import glenmoor.core.conditions.Expressions.AskCondition;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.Expressions.Mapping;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.people.FactKind;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/** Compiles the expressions of definitions, reporting what is wrong at their place in the file. */
public final class Compiling {
  private static final String EXPECTED = "an expression over a person's facts";

  private final Reading reading;
  private final Expressions expressions;

  /**
   * @param known has the facts that can be named
   */
  public Compiling(Reading reading, Defined known) {
    this.reading = reading;
    expressions = expressions(known);
  }

  /** The language of the facts that are defined. */
  public static Expressions expressions(Defined known) {
    return known.derived(
        Expressions.class,
        all -> new Expressions(all.all(FactKind.class).values(), new Teams(all)::byWorker));
  }

  /** The keys of the teams that somebody is in, by their worker number. */
  private static final class Teams {
    private final Defined all;
    private volatile Map<String, List<String>> known = Map.of();
    private volatile int read;

    Teams(Defined all) {
      this.all = all;
    }

    Map<String, List<String>> byWorker() {
      var teams = all.all(TeamKind.class);
      // Made again only if it was asked for before the last of them was read.
      if (read != teams.size()) {
        var made = new HashMap<String, List<String>>();
        for (var team : teams.values()) {
          for (var member : team.members()) {
            made.computeIfAbsent(WorkerNumber.key(member), key -> new ArrayList<>())
                .add(team.key());
          }
        }
        known = made;
        read = teams.size();
      }
      return known;
    }
  }

  /** The condition at a key that must be there. */
  public Optional<Condition> condition(String key) {
    return needed(key, expressions::condition);
  }

  /** The condition about an ask at a key that must be there. */
  public Optional<AskCondition> askCondition(String key) {
    return needed(key, expressions::askCondition);
  }

  /** The condition about what somebody holds, at a key that must be there. */
  public Optional<HoldingCondition> holdingCondition(String key) {
    return needed(key, expressions::holdingCondition);
  }

  /** The mapping at a key that must be there. */
  public Optional<Mapping> mapping(String key) {
    return needed(key, expressions::mapping);
  }

  /** The mapping that some value is. */
  public Optional<Mapping> mapping(Tree tree) {
    return compiled(tree.place(), String.valueOf(tree.plain()), expressions::mapping);
  }

  /** A mapping that gives no text. */
  public Mapping nothing() {
    return expressions.mapping("\"\"");
  }

  private <T> Optional<T> needed(String key, Function<String, T> compile) {
    var text = reading.needed(key, EXPECTED);
    return text.isEmpty() ? Optional.empty() : compiled(reading.place(key), text, compile);
  }

  private <T> Optional<T> compiled(Tree.Place place, String text, Function<String, T> compile) {
    try {
      return Optional.of(compile.apply(text));
    } catch (BadExpression bad) {
      reading.problem(
          place,
          "The expression “%s” cannot be used: %s%s."
              .formatted(
                  text,
                  bad.getMessage(),
                  bad.column() > 0 ? " (at its character " + bad.column() + ")" : ""));
      return Optional.empty();
    }
  }
}
