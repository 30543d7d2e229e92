package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.lifecycle.Source;
import glenmoor.store.people.PersonRow;
import java.time.LocalDate;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** People whose record waits until somebody agrees that they count. */
public interface CountsLater {
  /**
   * The days that were said of somebody.
   *
   * @param ends their last day; null where none was said
   */
  record Days(LocalDate starts, @Nullable LocalDate ends) {}

  /**
   * The days that were said of somebody who does not count yet; nothing of somebody who does.
   *
   * @param row null where there is nobody yet
   */
  Optional<Days> waiting(@Nullable PersonRow row);

  /**
   * Notes other days of somebody who does not count yet.
   *
   * @throws glenmoor.engine.Refused if they are not waiting any more
   */
  void said(PersonRow row, Days days);

  /**
   * Has somebody asked for whose record was just written, by the offer that their source says.
   *
   * @throws glenmoor.engine.Refused if that cannot be asked for; they never count then
   */
  void entered(Source source, String worker, Days days, String reason, Actor actor);
}
