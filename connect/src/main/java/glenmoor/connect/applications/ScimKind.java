package glenmoor.connect.applications;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;
import java.util.EnumSet;
import java.util.Set;

/** {@code connector: scim}: an application that speaks SCIM 2.0 (RFC 7643 and RFC 7644). */
@AutoService(ConnectorKind.class)
public final class ScimKind implements OpenableKind {
  @Override
  public String word() {
    return "scim";
  }

  @Override
  public Set<String> settings() {
    return ScimConnector.SETTINGS;
  }

  @Override
  public Set<Ability> abilities() {
    return EnumSet.of(
        Ability.CREATE,
        Ability.DELETE,
        Ability.RENAME,
        Ability.GROUPS,
        Ability.ROLES,
        Ability.PASSWORDS,
        Ability.LIST_ACCOUNTS,
        Ability.LIST_MEMBERSHIPS);
  }

  @Override
  public Connector open(Application application, Settings settings) {
    return new ScimConnector(application, settings);
  }
}
