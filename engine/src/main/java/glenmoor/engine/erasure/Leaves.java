package glenmoor.engine.erasure;

import glenmoor.core.erasure.ErasedEntry;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.KeptEntry;
import glenmoor.store.ledger.LedgerMapper;
import jakarta.inject.Named;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/** Entries of the ledger, of which the leaf stays when what they say of somebody goes. */
@Named
public final class Leaves implements SignedText {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int BATCH = 500;

  private final LedgerMapper ledger;

  Leaves(LedgerMapper ledger) {
    this.ledger = ledger;
  }

  @Override
  public String table() {
    return "ledger_entry";
  }

  @Override
  public void keep(Collection<Long> ids) {
    ledger.keepLeaves(ids);
  }

  /** Takes out of all entries about somebody what they say of the person. */
  void erase(String worker) {
    var after = 0L;
    List<KeptEntry> batch;
    do {
      batch = ledger.about("person:" + worker, after, BATCH);
      if (!batch.isEmpty()) {
        keep(batch.stream().map(KeptEntry::id).toList());
        ledger.rewrite(
            CanonicalJson.write(
                batch.stream()
                    .map(entry -> Map.of("id", entry.id(), "entry", erased(entry)))
                    .toList()));
        after = batch.getLast().id();
      }
    } while (batch.size() == BATCH);
  }

  private static String erased(KeptEntry entry) {
    var all = new LinkedHashMap<String, Object>();
    all.putAll(JSON.readValue(entry.entry(), Map.class));
    for (var side : List.of("before", "after")) {
      if (all.get(side) instanceof Map<?, ?> values) {
        all.put(side, ErasedEntry.of(entry.what(), values));
      }
    }
    return CanonicalJson.write(all);
  }
}
