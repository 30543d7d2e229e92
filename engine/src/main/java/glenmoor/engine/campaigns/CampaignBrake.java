package glenmoor.engine.campaigns;

import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;

/** The brake on what campaigns take from many people at once. */
@Named
final class CampaignBrake {
  private final PersonMapper people;
  private final Catalogues catalogues;

  CampaignBrake(PersonMapper people, Catalogues catalogues) {
    this.people = people;
    this.catalogues = catalogues;
  }

  /** So many who lose something, of everybody; nobody is counted where nobody does. */
  Measured measured(int losing) {
    return new Measured(Map.of(Measure.LOSING, losing), losing == 0 ? 0 : people.countAll());
  }

  /** Why that waits; nothing where it does not. */
  List<String> over(Measured measured) {
    return over(measured, Map.of());
  }

  private List<String> over(Measured measured, Map<Measure, Integer> allowed) {
    return BrakeKind.on("campaigns", catalogues.current().defined()).hold(measured, allowed);
  }

  /**
   * Whether something that was held is no more than it was.
   *
   * @param allowed what it came to when it was held
   * @throws Refused if it comes to more by now
   */
  void noMore(int losing, Map<Measure, Integer> allowed) {
    var over = over(measured(losing), allowed);
    if (!over.isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It comes to more than when it was held: %s.".formatted(String.join("; ", over)));
    }
  }
}
