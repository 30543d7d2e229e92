package glenmoor.engine.campaigns;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.engine.erasure.SignedText;
import glenmoor.store.Parts;
import glenmoor.store.campaigns.ItemMapper;
import jakarta.inject.Named;
import java.util.Collection;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;

/** Items of reviews: what a reviewer signed for of an item stays as a digest. */
@Named
final class SignedItems implements SignedText {
  private static final int BATCH = 500;

  private final ItemMapper items;

  SignedItems(ItemMapper items) {
    this.items = items;
  }

  @Override
  public String table() {
    return "campaign_item";
  }

  @Override
  public void keep(Collection<Long> ids) {
    Parts.each(
        List.copyOf(ids),
        BATCH,
        part ->
            items.keepDigests(
                CanonicalJson.write(
                    items.byIds(part).stream()
                        .map(item ->
                            Map.of(
                                "id",
                                item.id(),
                                "digest",
                                HexFormat.of().formatHex(SigningOff.digestOf(item))))
                        .toList())));
  }
}
