package glenmoor.connect.applications;

import glenmoor.core.applications.Application;
import glenmoor.core.applications.ConnectorKind;

/** A kind of connector that can be opened. */
public interface OpenableKind extends ConnectorKind {
  /**
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  Connector open(Application application, Settings settings);
}
