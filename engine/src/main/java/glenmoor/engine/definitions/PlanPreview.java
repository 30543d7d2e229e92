package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.provisioning.Planner;

/** What other definitions would do for people, without doing it. */
public interface PlanPreview {
  /** Plans everybody by a catalogue, and adds up what would happen. */
  Forecast.Sum forecastAll(Catalogue catalogue);

  /** A planner by a catalogue that takes no names. */
  Planner trying(Catalogue catalogue);
}
