package glenmoor.core.applications;

import com.google.auto.service.AutoService;
import java.util.EnumSet;
import java.util.Set;

/**
 * Connectors as the tests of the core know them: one that can do everything, and one that cannot.
 */
public final class TestConnectors {
  private TestConnectors() {}

  /** Can do everything. */
  @AutoService(ConnectorKind.class)
  public static final class Able implements ConnectorKind {
    @Override
    public String word() {
      return "ldap";
    }

    @Override
    public Set<String> settings() {
      return Set.of("url");
    }

    @Override
    public Set<Ability> abilities() {
      return EnumSet.allOf(Ability.class);
    }
  }

  /** Makes accounts and puts them into groups, and no more. */
  @AutoService(ConnectorKind.class)
  public static final class Plain implements ConnectorKind {
    @Override
    public String word() {
      return "scim";
    }

    @Override
    public Set<String> settings() {
      return Set.of("url");
    }

    @Override
    public Set<Ability> abilities() {
      return EnumSet.of(Ability.CREATE, Ability.GROUPS);
    }
  }
}
