package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Concern;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.provisioning.Planner;
import java.util.function.IntConsumer;

/** What other definitions would do for people, without doing it. */
public interface PlanPreview {
  /**
   * Plans by a catalogue for those whom it concerns, and adds up what would happen.
   *
   * @param told now and then: how many people were planned for so far
   */
  Forecast.Sum forecast(Catalogue catalogue, Concern concern, IntConsumer told);

  /** A planner by a catalogue that takes no names. */
  Planner trying(Catalogue catalogue);
}
