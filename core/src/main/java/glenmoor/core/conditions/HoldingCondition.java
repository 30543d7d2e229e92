package glenmoor.core.conditions;

import dev.cel.runtime.CelEvaluationException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A yes-or-no question about something that somebody holds, ready to be asked. It sees {@code
 * holding.application}, {@code holding.entitlement} (keys), {@code holding.risk}, {@code
 * holding.privileged}, {@code holding.tags}, {@code holding.basis} (all that it is given by),
 * {@code holding.idle} and {@code holding.conflict}.
 */
public final class HoldingCondition {
  /**
   * What it is asked of.
   *
   * @param basis the words of all that it is given by; none where nothing explains it
   */
  public record Held(
      String application,
      String entitlement,
      String risk,
      boolean privileged,
      List<String> tags,
      List<String> basis,
      boolean idle,
      boolean conflict) {
    Map<String, Object> view() {
      var view = new HashMap<String, Object>();
      view.put("holding.application", application);
      view.put("holding.entitlement", entitlement);
      view.put("holding.risk", risk);
      view.put("holding.privileged", privileged);
      view.put("holding.tags", tags);
      view.put("holding.basis", basis);
      view.put("holding.idle", idle);
      view.put("holding.conflict", conflict);
      return view;
    }
  }

  private final Language.Compiled compiled;

  HoldingCondition(Language.Compiled compiled) {
    this.compiled = compiled;
  }

  public String text() {
    return compiled.text();
  }

  /**
   * Whether it holds.
   *
   * @throws Unanswerable if it fails
   */
  public boolean holds(Held held) {
    try {
      return Boolean.TRUE.equals(compiled.program().eval(held.view()));
    } catch (CelEvaluationException failed) {
      throw Expressions.unanswerable(text(), failed);
    }
  }

  @Override
  public boolean equals(@Nullable Object other) {
    return other instanceof HoldingCondition that && text().equals(that.text());
  }

  @Override
  public int hashCode() {
    return text().hashCode();
  }
}
