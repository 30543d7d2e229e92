package glenmoor.connect.applications;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;
import java.util.EnumSet;
import java.util.Set;

/** {@code connector: ldap}: a directory (RFC 4511). */
@AutoService(ConnectorKind.class)
public final class LdapKind implements OpenableKind {
  @Override
  public String word() {
    return "ldap";
  }

  @Override
  public Set<String> settings() {
    return LdapConnector.SETTINGS;
  }

  @Override
  public Set<Ability> abilities() {
    return EnumSet.of(
        Ability.CREATE,
        Ability.DELETE,
        Ability.RENAME,
        Ability.MOVE,
        Ability.GROUPS,
        Ability.PASSWORDS,
        Ability.PASSWORD_CHANGES,
        Ability.OWNED_GROUPS,
        Ability.LIST_ACCOUNTS,
        Ability.LIST_MEMBERSHIPS);
  }

  @Override
  public Connector open(Application application, Settings settings) {
    return new LdapConnector(application, settings);
  }
}
