package glenmoor.connect.applications;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;
import java.util.EnumSet;
import java.util.Set;

/** {@code connector: sql}: an application whose users and rights are rows of its own database. */
@AutoService(ConnectorKind.class)
public final class SqlKind implements OpenableKind {
  @Override
  public String word() {
    return "sql";
  }

  @Override
  public Set<String> settings() {
    return SqlDatabase.SETTINGS;
  }

  @Override
  public Set<Ability> abilities() {
    return EnumSet.of(
        Ability.CREATE,
        Ability.DELETE,
        Ability.RENAME,
        Ability.GROUPS,
        Ability.ROLES,
        Ability.LIST_ACCOUNTS,
        Ability.LIST_MEMBERSHIPS);
  }

  @Override
  public Connector open(Application application, Settings settings) {
    return new SqlConnector(application, settings);
  }
}
