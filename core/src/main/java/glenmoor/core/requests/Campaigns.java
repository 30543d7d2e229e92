package glenmoor.core.requests;

import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.CampaignKind;
import glenmoor.core.definitions.Defined;
import java.util.Map;
import java.util.TreeMap;

/** All campaigns: those that are defined, and those by which offers are reviewed. */
public final class Campaigns {
  private Campaigns() {}

  /** All of them by their keys, in the order of these. */
  public static Map<String, Campaign> of(Defined defined) {
    var all = new TreeMap<>(defined.all(CampaignKind.class));
    for (var offer : defined.all(OfferKind.class).values()) {
      offer.review().ifPresent(each -> all.put(each.key(), each));
    }
    return all;
  }
}
