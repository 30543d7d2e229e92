package glenmoor.core.applications;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;

/**
 * What one kind of connector declares of itself, so that a definition that asks for more is refused
 * when it is loaded, and planning never orders what cannot be done. Whatever brings a connector
 * marks this {@code @AutoService(ConnectorKind.class)}; no list names it.
 */
public interface ConnectorKind {
  /** The word in definitions, such as {@code ldap}. */
  String word();

  /** All settings it reads. */
  Set<String> settings();

  Set<Ability> abilities();

  default boolean can(Ability ability) {
    return abilities().contains(ability);
  }

  /** All kinds there are, by their words. */
  static List<ConnectorKind> all() {
    return Known.ALL;
  }

  /** The kind of this word. */
  static Optional<ConnectorKind> ofWord(String word) {
    return all().stream().filter(kind -> kind.word().equals(word)).findFirst();
  }

  /** Found once: the kinds there are stay the same while the service runs. */
  final class Known {
    private static final List<ConnectorKind> ALL =
        ServiceLoader.load(ConnectorKind.class, ConnectorKind.class.getClassLoader()).stream()
            .map(ServiceLoader.Provider::get)
            .sorted(Comparator.comparing(ConnectorKind::word))
            .toList();

    private Known() {}
  }
}
