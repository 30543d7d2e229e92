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

  /** So many who lose something, of everybody. */
  Measured measured(int losing) {
    return new Measured(Map.of(Measure.LOSING, losing), people.countAll());
  }

  /** Why that waits; nothing where it does not. */
  List<String> over(int losing) {
    return over(losing, Map.of());
  }

  private List<String> over(int losing, Map<Measure, Integer> allowed) {
    return BrakeKind.on("campaigns", catalogues.current().defined())
        .hold(measured(losing), allowed);
  }

  /**
   * Whether something that was held is no more than it was.
   *
   * @param allowed what it came to when it was held
   * @throws Refused if it comes to more by now
   */
  void noMore(int losing, Map<Measure, Integer> allowed) {
    var over = over(losing, allowed);
    if (!over.isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It comes to more than when it was held: %s.".formatted(String.join("; ", over)));
    }
  }
}
