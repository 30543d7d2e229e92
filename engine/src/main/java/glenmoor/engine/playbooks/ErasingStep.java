package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.engine.erasure.Erasing;
import glenmoor.engine.letters.Occasion;
import jakarta.inject.Named;

/** The step that erases who somebody was. */
@Named
final class ErasingStep {
  private final Erasing erasing;

  ErasingStep(Erasing erasing) {
    this.erasing = erasing;
  }

  /** Does it, inside the caller's transaction; done twice it is the same as once. */
  Did erase(StepContext context) {
    var row = context.about().row();
    var hindered = erasing.inTheWay(row, context.run().id());
    if (hindered.isPresent()) {
      var why = "Nothing was erased: %s.".formatted(hindered.get().why());
      return hindered.get().passes()
          ? Did.of(new Outcome.NotYet(context.again(), why))
          : Did.failed(why);
    }
    erasing.erase(row, context.cause());
    return Did.done("Erased; texts about others and versions before follow within hours");
  }

  /** What it would do, as things are now. */
  Would would(Occasion about) {
    return erasing
        .inTheWay(about.row(), 0)
        .map(why -> Would.not("Nothing would be erased: %s.".formatted(why.why())))
        .orElseGet(() ->
            Would.doIt(
                "Erases all that says who %s is; their worker number stays, and what happened."
                    .formatted(about.row().name())));
  }
}
