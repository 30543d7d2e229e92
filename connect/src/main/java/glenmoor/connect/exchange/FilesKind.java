package glenmoor.connect.exchange;

import com.google.auto.service.AutoService;
import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.OpenableKind;
import glenmoor.connect.applications.Settings;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;
import java.util.EnumSet;
import java.util.Set;

/**
 * {@code connector: files}: an application that takes its changes as files, and answers with a file
 * of what it has.
 */
@AutoService(ConnectorKind.class)
public final class FilesKind implements OpenableKind {
  @Override
  public String word() {
    return "files";
  }

  @Override
  public Set<String> settings() {
    return Set.of("directory");
  }

  @Override
  public Set<Ability> abilities() {
    return EnumSet.of(
        Ability.CREATE,
        Ability.DELETE,
        Ability.RENAME,
        Ability.ROLES,
        Ability.LIST_ACCOUNTS,
        Ability.LIST_MEMBERSHIPS,
        Ability.FILES);
  }

  @Override
  public Connector open(Application application, Settings settings) {
    var directory = settings.files(settings.text("directory", application.key()));
    return new FilesConnector(application, new ExchangeFolder(application.key(), directory));
  }
}
