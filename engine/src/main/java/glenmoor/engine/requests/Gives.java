package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;

/** One thing that a line gives. */
public record Gives(String entitlement, String name, String application, String risk) {
  static Gives of(Entitlement each, Catalogue catalogue) {
    return new Gives(
        each.key(),
        each.plainName(),
        catalogue.application(each.application()).name(),
        each.risk().word());
  }
}
