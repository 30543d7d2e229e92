package glenmoor.core.conditions;

import dev.cel.common.CelErrorCode;
import dev.cel.common.values.NullValue;
import dev.cel.runtime.CelEvaluationException;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Person;
import glenmoor.core.people.WorkerNumber;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Compiles and runs the one expression language, CEL (the open Common Expression Language), over
 * people's facts.
 *
 * <p>Each fact is a variable of its own type, {@code person.department}, so an expression that
 * names a fact nobody has, or compares a date with a text, is refused when it is saved, with the
 * place of the error. Comprehensions are bounded and no code runs.
 *
 * <p>An absent text counts as the empty text and an absent yes-no as no; absent numbers and dates
 * are null.
 */
public final class Expressions {
  private static final DateTimeFormatter WRITTEN =
      DateTimeFormatter.ofPattern("d MMMM uuuu", Locale.ENGLISH);
  private static final Pattern KEY = Pattern.compile("[Kk]ey '([^']*)'");
  private static final int LONGEST_REASON = 200;
  private final Language language;
  private final Collection<FactDefinition> facts;
  private final Supplier<Map<String, List<String>>> teams;

  /** Makes a language in which exactly these facts can be named, and nobody is in a team. */
  public Expressions(Collection<FactDefinition> facts) {
    this(facts, Map::of);
  }

  /**
   * Makes a language in which exactly these facts can be named.
   *
   * @param teams the keys of the teams that somebody is in, by {@link WorkerNumber#key}; asked for
   *     when people are looked at
   */
  public Expressions(Collection<FactDefinition> facts, Supplier<Map<String, List<String>>> teams) {
    this.teams = teams;
    this.facts = List.copyOf(facts);
    language = Language.of(facts);
  }

  /** A date as people write it, such as 14 March 2027. */
  public static String written(LocalDate date) {
    return WRITTEN.format(date);
  }

  /** The same of a date as expressions see it: its midnight in UTC. */
  static String written(Instant date) {
    return written(date.atZone(ZoneOffset.UTC).toLocalDate());
  }

  /**
   * Compiles a yes-or-no question about a person.
   *
   * @throws BadExpression if it is no such question about the facts there are
   */
  public Condition condition(String text) {
    return new Condition(language.compiled(Language.Use.CONDITION, text));
  }

  /**
   * Compiles a text made from a person's facts and account names.
   *
   * @throws BadExpression if it does not give a text from the facts there are
   */
  public Mapping mapping(String text) {
    return new Mapping(language.compiled(Language.Use.MAPPING, text));
  }

  /**
   * Compiles a part of a letter: a text made from a person's facts and what belongs to the
   * occasion.
   *
   * @throws BadExpression if it does not give a text from what there is
   */
  public LetterText letterText(String text) {
    return new LetterText(language.compiled(Language.Use.LETTER, text));
  }

  /**
   * Compiles a yes-or-no question about what is asked for, and for whom.
   *
   * @throws BadExpression if it is no such question
   */
  public AskCondition askCondition(String text) {
    return new AskCondition(language.compiled(Language.Use.ASK, text));
  }

  /**
   * Compiles a yes-or-no question about what somebody holds.
   *
   * @throws BadExpression if it is no such question
   */
  public HoldingCondition holdingCondition(String text) {
    return new HoldingCondition(language.compiled(Language.Use.HOLDING, text));
  }

  /** The values that conditions and mappings see of a person. */
  public Map<String, Object> view(Person person) {
    var view = new HashMap<String, Object>();
    view.put("person.worker", person.worker().value());
    view.put("person.name", person.facts().fullName());
    view.put("person.teams", teams.get().getOrDefault(person.worker().key(), List.of()));
    for (var fact : facts) {
      var value = person.facts().get(fact.key());
      view.put("person." + fact.key(), value == null ? absent(fact.type()) : seen(value));
    }
    return view;
  }

  private static Object seen(Object value) {
    return value instanceof LocalDate date ? date.atStartOfDay(ZoneOffset.UTC).toInstant() : value;
  }

  private static Object absent(FactType type) {
    return switch (type) {
      case TEXT, PERSON -> "";
      case YES_NO -> false;
      case DATE, NUMBER -> NullValue.NULL_VALUE;
    };
  }

  static Unanswerable unanswerable(String text, CelEvaluationException failed) {
    var why =
        switch (failed.getErrorCode()) {
          case DIVIDE_BY_ZERO -> "it divides by zero";
          case INDEX_OUT_OF_BOUNDS -> "it asks for a place that the text or list does not have";
          case ATTRIBUTE_NOT_FOUND -> missing(String.valueOf(failed.getMessage()));
          case NUMERIC_OVERFLOW -> "a number in it grows too large";
          case ITERATION_BUDGET_EXCEEDED -> "it would take too many steps";
          case OVERLOAD_NOT_FOUND -> "it compares or joins values of different types";
          case BAD_FORMAT -> "a text in it is not written as it must be";
          default -> otherwise(String.valueOf(failed.getMessage()));
        };
    return new Unanswerable("“%s” cannot be answered: %s".formatted(text, why));
  }

  private static String otherwise(String message) {
    return message.contains("out of bounds")
        ? "it asks for a place that the text or list does not have"
        : withoutPlace(message);
  }

  private static String missing(String message) {
    var key = KEY.matcher(message);
    return key.find()
        ? "there is no account in " + key.group(1) + " to take the name from"
        : withoutPlace(message);
  }

  private static String withoutPlace(String message) {
    var place = message.indexOf("<input>");
    var cut = message.replaceFirst("evaluation error(?: at <input>:\\d+)?: ", "");
    return place < 0 && cut.length() <= LONGEST_REASON
        ? cut
        : cut.substring(0, Math.min(cut.length(), LONGEST_REASON));
  }

  /** A yes-or-no question about a person, ready to be asked; equal to another of the same text. */
  public static final class Condition {
    /** Facts that hardly two people share: answers by them would never be asked for again. */
    private static final Set<String> OF_ONE = Set.of("worker", "name", "teams");

    private static final int MOST_KNOWN = 4_096;

    private final Language.Compiled compiled;
    private final @Nullable List<String> variables;
    private final Map<List<Object>, Boolean> known = new ConcurrentHashMap<>();

    private Condition(Language.Compiled compiled) {
      this.compiled = compiled;
      variables =
          compiled.facts().stream().anyMatch(OF_ONE::contains)
              ? null
              : compiled.facts().stream().map(fact -> "person." + fact).toList();
    }

    public String text() {
      return compiled.text();
    }

    @Override
    public boolean equals(@Nullable Object other) {
      return other instanceof Condition that && text().equals(that.text());
    }

    @Override
    public int hashCode() {
      return text().hashCode();
    }

    /** The keys of the facts it names, in the order it names them. */
    public List<String> factsNamed() {
      return compiled.facts();
    }

    /**
     * Whether it holds. A comparison with a number or date that the person has not does not hold.
     * It is evaluated once for the same values of the facts it names, as long as they are few: the
     * answer depends on nothing else.
     *
     * @throws Unanswerable if it fails in any other way
     */
    public boolean holds(Map<String, Object> view) {
      if (variables == null) {
        return evaluated(view);
      }
      var values = variables.stream().map(view::get).toList();
      var answer = known.get(values);
      if (answer == null) {
        answer = evaluated(view);
        if (known.size() < MOST_KNOWN) {
          known.put(values, answer);
        }
      }
      return answer;
    }

    private boolean evaluated(Map<String, Object> view) {
      try {
        return Boolean.TRUE.equals(compiled.program().eval(view));
      } catch (CelEvaluationException failed) {
        if (compiled.comparesWithNothing(failed, view)) {
          return false;
        }
        throw unanswerable(text(), failed);
      }
    }
  }

  /**
   * A yes-or-no question about an ask, ready to be asked. It sees the facts of the person it is
   * for, {@code ask.kind}, {@code ask.days} (null where it is open-ended), {@code ask.risk}, {@code
   * ask.conflicts} and {@code answers}.
   */
  public static final class AskCondition {
    private final Language.Compiled compiled;

    private AskCondition(Language.Compiled compiled) {
      this.compiled = compiled;
    }

    public String text() {
      return compiled.text();
    }

    /**
     * Whether it holds; a comparison with what there is not does not.
     *
     * @throws Unanswerable if it fails in any other way
     */
    public boolean holds(Map<String, Object> view) {
      try {
        return Boolean.TRUE.equals(compiled.program().eval(view));
      } catch (CelEvaluationException failed) {
        if (compiled.comparesWithNothing(failed, view)
            || failed.getErrorCode() == CelErrorCode.OVERLOAD_NOT_FOUND
                && view.get("ask.days") == NullValue.NULL_VALUE) {
          return false;
        }
        throw unanswerable(text(), failed);
      }
    }
  }

  /** How many days an ask is for, as its conditions see it. */
  public static Object days(@Nullable Long days) {
    return days == null ? NullValue.NULL_VALUE : days;
  }

  /** A text made from a person's facts, ready to be made; equal to another of the same text. */
  public static final class Mapping {
    private final Language.Compiled compiled;

    private Mapping(Language.Compiled compiled) {
      this.compiled = compiled;
    }

    public String text() {
      return compiled.text();
    }

    @Override
    public boolean equals(@Nullable Object other) {
      return other instanceof Mapping that && text().equals(that.text());
    }

    @Override
    public int hashCode() {
      return text().hashCode();
    }

    /** The applications whose account names it uses. */
    public List<String> accountsNamed() {
      return compiled.accounts();
    }

    /**
     * The text for one person; nothing when it is empty, or built on a number or date that the
     * person has not.
     *
     * @param accounts the names of the accounts the person has, by application
     * @throws Unanswerable if it cannot be made for any other reason
     */
    public Optional<String> value(
        Map<String, Object> view, Map<String, String> accounts, String accountName) {
      var inputs = new HashMap<>(view);
      inputs.put("accounts", accounts);
      inputs.put("account.name", accountName);
      try {
        return Optional.ofNullable((String) compiled.program().eval(inputs))
            .filter(made -> !made.isBlank());
      } catch (CelEvaluationException failed) {
        if (compiled.comparesWithNothing(failed, view)) {
          return Optional.empty();
        }
        throw unanswerable(text(), failed);
      }
    }
  }

  /** A part of a letter, ready to be made. */
  public static final class LetterText {
    private final Language.Compiled compiled;

    private LetterText(Language.Compiled compiled) {
      this.compiled = compiled;
    }

    public String text() {
      return compiled.text();
    }

    /**
     * The text for one occasion; empty where it is built on a number or date that the person has
     * not.
     *
     * @param values the view of a person with what belongs to the occasion
     * @throws Unanswerable if it cannot be made for any other reason
     */
    public String value(Map<String, Object> values) {
      try {
        return String.valueOf(compiled.program().eval(values));
      } catch (CelEvaluationException failed) {
        if (compiled.comparesWithNothing(failed, values)) {
          return "";
        }
        throw unanswerable(text(), failed);
      }
    }
  }
}
