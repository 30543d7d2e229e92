package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.forecast.Forecast;
import java.util.List;

/** What is worth a warning in what definitions would come to; each room says its own. */
public interface ForecastWarnings {
  /** One sentence each. */
  List<String> of(Forecast.Sum forecast, Catalogue after);
}
