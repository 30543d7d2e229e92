package glenmoor.core.conditions;

import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.ast.CelExpr.ExprKind.Kind;
import dev.cel.common.navigation.CelNavigableAst;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Which facts and accounts an expression names, read off its tree and not off its text. */
final class ExpressionNames {
  /**
   * A name in an expression.
   *
   * @param column from 1
   */
  record Named(String name, int column) {}

  private ExpressionNames() {}

  /** What stands after {@code person.}, in the order of the text. */
  static List<Named> facts(CelAbstractSyntaxTree parsed) {
    return CelNavigableAst.fromAst(parsed)
        .getRoot()
        .allNodes()
        .map(node -> node.expr())
        .filter(expr -> isSelect(expr, "person"))
        .map(expr -> new Named(expr.select().field(), column(parsed, expr)))
        .sorted(Comparator.comparingInt(Named::column))
        .toList();
  }

  /** The applications in {@code accounts.directory} and {@code accounts["directory"]}. */
  static List<String> accounts(CelAbstractSyntaxTree parsed) {
    return CelNavigableAst.fromAst(parsed)
        .getRoot()
        .allNodes()
        .flatMap(node -> account(node.expr()).stream())
        .distinct()
        .sorted()
        .toList();
  }

  private static Optional<String> account(CelExpr expr) {
    if (isSelect(expr, "accounts")) {
      return Optional.of(expr.select().field());
    }
    if (expr.exprKind().getKind() != Kind.CALL || !expr.call().function().equals("_[_]")) {
      return Optional.empty();
    }
    var key = expr.call().args().get(1);
    return isNamed(expr.call().args().getFirst(), "accounts")
            && key.exprKind().getKind() == Kind.CONSTANT
            && key.constant().getKind() == CelConstant.Kind.STRING_VALUE
        ? Optional.of(key.constant().stringValue())
        : Optional.empty();
  }

  private static boolean isSelect(CelExpr expr, String of) {
    return expr.exprKind().getKind() == Kind.SELECT && isNamed(expr.select().operand(), of);
  }

  private static boolean isNamed(CelExpr expr, String name) {
    return expr.exprKind().getKind() == Kind.IDENT && expr.ident().name().equals(name);
  }

  /** A selection stands where its dot is: the name begins one further. */
  private static int column(CelAbstractSyntaxTree parsed, CelExpr expr) {
    return parsed.getSource().getPositionsMap().getOrDefault(expr.id(), 0) + 2;
  }
}
