package glenmoor.core.conditions;

import dev.cel.common.CelErrorCode;
import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelOptions;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.CelType;
import dev.cel.common.types.ListType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.NullableType;
import dev.cel.common.types.SimpleType;
import dev.cel.common.values.NullValue;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.extensions.CelExtensions;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Latin;
import java.time.Instant;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;

/**
 * What can be said about people who have these facts.
 *
 * <p>To compile an expression takes milliseconds, and definitions are compiled when they are
 * written, when they are loaded and when they are read again, nearly always in the same words. So
 * what was compiled is kept, for as many languages and expressions as an organisation may have.
 */
final class Language {
  /** What an expression is for; it says what else than facts it sees, and what it gives. */
  enum Use {
    CONDITION,
    MAPPING,
    LETTER,
    ASK,
    HOLDING
  }

  /**
   * An expression ready to be evaluated.
   *
   * @param facts the keys of the facts it names, in the order it names them
   * @param accounts the applications whose account names it uses
   */
  record Compiled(
      String text, CelRuntime.Program program, List<String> facts, List<String> accounts) {
    /** CEL has no overload for an absent number or date: that is no mistake in the expression. */
    boolean comparesWithNothing(CelEvaluationException failed, Map<String, Object> view) {
      return failed.getErrorCode() == CelErrorCode.OVERLOAD_NOT_FOUND
          && facts.stream().anyMatch(fact -> view.get("person." + fact) == NullValue.NULL_VALUE);
    }
  }

  private record Wanted(Use use, String text) {}

  private static final int LONGEST = 4_000;
  private static final int MOST_ITERATIONS = 1_000;
  private static final int MOST_LANGUAGES = 16;
  private static final int MOST_EXPRESSIONS = 10_000;
  private static final CelOptions OPTIONS =
      CelOptions.current().comprehensionMaxIterations(MOST_ITERATIONS).build();
  private static final CelRuntime RUNTIME =
      CelRuntimeFactory.standardCelRuntimeBuilder()
          .setOptions(OPTIONS)
          .addLibraries(CelExtensions.strings())
          .addFunctionBindings(
              CelFunctionBinding.from("fold_string", String.class, Latin::fold),
              CelFunctionBinding.from("slug_string", String.class, Latin::slug),
              CelFunctionBinding.from("initials_string", String.class, Latin::initials),
              CelFunctionBinding.from("written_timestamp", Instant.class, Expressions::written))
          .build();

  private static final Map<Map<String, FactType>, Language> LANGUAGES = new ConcurrentHashMap<>();

  private final Map<Use, CelCompiler> compilers = new EnumMap<>(Use.class);
  private final Set<String> known = new TreeSet<>(List.of("worker", "name", "teams"));
  private final Map<Wanted, Compiled> compiled = new ConcurrentHashMap<>();

  private Language(Map<String, FactType> facts) {
    known.addAll(facts.keySet());
    compilers.put(Use.CONDITION, people(facts).setResultType(SimpleType.BOOL).build());
    compilers.put(
        Use.MAPPING,
        people(facts)
            .addVar("accounts", MapType.create(SimpleType.STRING, SimpleType.STRING))
            .addVar("account.name", SimpleType.STRING)
            .setResultType(SimpleType.STRING)
            .build());
    compilers.put(
        Use.LETTER,
        people(facts)
            .addVar("accounts", MapType.create(SimpleType.STRING, SimpleType.STRING))
            .addVar("manager.name", SimpleType.STRING)
            .addVar("recipient.name", SimpleType.STRING)
            .addVar("day", SimpleType.STRING)
            .addVar("passcode", SimpleType.STRING)
            .addVar("work", SimpleType.STRING)
            .addVar("link", SimpleType.STRING)
            .setResultType(SimpleType.STRING)
            .build());
    compilers.put(
        Use.ASK,
        people(facts)
            .addVar("ask.kind", SimpleType.STRING)
            .addVar("ask.days", NullableType.create(SimpleType.INT))
            .addVar("ask.risk", SimpleType.STRING)
            .addVar("ask.conflicts", SimpleType.INT)
            .addVar("answers", MapType.create(SimpleType.STRING, SimpleType.STRING))
            .setResultType(SimpleType.BOOL)
            .build());
    compilers.put(
        Use.HOLDING,
        words()
            .addVar("holding.application", SimpleType.STRING)
            .addVar("holding.entitlement", SimpleType.STRING)
            .addVar("holding.risk", SimpleType.STRING)
            .addVar("holding.privileged", SimpleType.BOOL)
            .addVar("holding.tags", ListType.create(SimpleType.STRING))
            .addVar("holding.basis", ListType.create(SimpleType.STRING))
            .addVar("holding.idle", SimpleType.BOOL)
            .addVar("holding.conflict", SimpleType.BOOL)
            .setResultType(SimpleType.BOOL)
            .build());
  }

  /** The language in which exactly these facts can be named. */
  static Language of(Collection<FactDefinition> facts) {
    var types = new TreeMap<String, FactType>();
    facts.forEach(fact -> types.put(fact.key(), fact.type()));
    if (LANGUAGES.size() > MOST_LANGUAGES) {
      LANGUAGES.clear();
    }
    return LANGUAGES.computeIfAbsent(types, Language::new);
  }

  private static CelCompilerBuilder words() {
    return CelCompilerFactory.standardCelCompilerBuilder()
        .setOptions(OPTIONS)
        .addLibraries(CelExtensions.strings());
  }

  private static CelCompilerBuilder people(Map<String, FactType> facts) {
    var builder =
        words()
            .addVar("person.worker", SimpleType.STRING)
            .addVar("person.name", SimpleType.STRING)
            .addVar("person.teams", ListType.create(SimpleType.STRING))
            .addFunctionDeclarations(
                textFunction("fold"),
                textFunction("slug"),
                textFunction("initials"),
                CelFunctionDecl.newFunctionDeclaration(
                    "written",
                    CelOverloadDecl.newGlobalOverload(
                        "written_timestamp", SimpleType.STRING, SimpleType.TIMESTAMP)));
    facts.forEach((key, type) -> builder.addVar("person." + key, typeOf(type)));
    return builder;
  }

  private static CelFunctionDecl textFunction(String name) {
    return CelFunctionDecl.newFunctionDeclaration(
        name,
        CelOverloadDecl.newGlobalOverload(name + "_string", SimpleType.STRING, SimpleType.STRING));
  }

  private static CelType typeOf(FactType type) {
    return switch (type) {
      case TEXT, PERSON -> SimpleType.STRING;
      case DATE -> NullableType.create(SimpleType.TIMESTAMP);
      case NUMBER -> NullableType.create(SimpleType.INT);
      case YES_NO -> SimpleType.BOOL;
    };
  }

  /**
   * Compiles an expression, or gives it as it was compiled before.
   *
   * @throws BadExpression if it cannot be used for that
   */
  Compiled compiled(Use use, String text) {
    if (text.length() > LONGEST) {
      throw new BadExpression(
          "it has %,d characters; it may have %,d".formatted(text.length(), LONGEST), LONGEST);
    }
    if (compiled.size() > MOST_EXPRESSIONS) {
      compiled.clear();
    }
    var wanted = new Wanted(use, text);
    var before = compiled.get(wanted);
    if (before != null) {
      return before;
    }
    var made = compile(wanted);
    compiled.put(wanted, made);
    return made;
  }

  private Compiled compile(Wanted wanted) {
    var compiler = Objects.requireNonNull(compilers.get(wanted.use()));
    try {
      var parsed = compiler.parse(wanted.text()).getAst();
      var facts = ExpressionNames.facts(parsed);
      factsExist(facts);
      return new Compiled(
          wanted.text(),
          RUNTIME.createProgram(compiler.check(parsed).getAst()),
          facts.stream().map(ExpressionNames.Named::name).distinct().toList(),
          ExpressionNames.accounts(parsed));
    } catch (CelValidationException invalid) {
      var first = invalid.getErrors().getFirst();
      throw new BadExpression(
          ExpressionErrors.inWords(first.getMessage(), known),
          first.getSourceLocation().getColumn() + 1);
    } catch (CelEvaluationException refused) {
      throw new BadExpression(String.valueOf(refused.getMessage()), 0);
    }
  }

  /** The compiler would only say that it does not know “person”: this names the fact. */
  private void factsExist(List<ExpressionNames.Named> named) {
    for (var fact : named) {
      if (!known.contains(fact.name())) {
        throw new BadExpression(
            "there is no fact %s%s; the facts are %s"
                .formatted(
                    fact.name(),
                    ExpressionErrors.nearest(fact.name(), known),
                    String.join(", ", known)),
            fact.column());
      }
    }
  }
}
