package glenmoor.connect.applications;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;
import java.util.EnumSet;
import java.util.Set;

/** {@code connector: none}: an application in which people do what is to be done. */
@AutoService(ConnectorKind.class)
public final class PeopleKind implements OpenableKind {
  @Override
  public String word() {
    return "none";
  }

  @Override
  public Set<String> settings() {
    return Set.of("by");
  }

  @Override
  public Set<Ability> abilities() {
    return EnumSet.of(
        Ability.CREATE, Ability.DELETE, Ability.RENAME, Ability.GROUPS, Ability.ROLES);
  }

  @Override
  public Connector open(Application application, Settings settings) {
    return new PeopleConnector(settings);
  }
}
