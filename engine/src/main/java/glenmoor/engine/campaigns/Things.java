package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.Application;
import glenmoor.store.campaigns.ItemMapper.ItemRow;

/** What items are about, by name. */
final class Things {
  private Things() {}

  /** The plain name of what is judged. */
  static String name(ItemRow item, Catalogue catalogue) {
    return switch (item.kind()) {
      case "entitlement" -> catalogue.name(new Grant.Target.OfEntitlement(item.targetKey()));
      case "package" -> catalogue.name(new Grant.Target.OfPackage(item.targetKey()));
      default -> "Account %s in %s".formatted(item.account(), application(item, catalogue));
    };
  }

  /** The name of its application; empty for a package. */
  static String application(ItemRow item, Catalogue catalogue) {
    return catalogue.applications().stream()
        .filter(each -> each.key().equals(item.application()))
        .map(Application::name)
        .findFirst()
        .orElse(item.application());
  }
}
