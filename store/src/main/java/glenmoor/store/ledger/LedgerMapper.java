package glenmoor.store.ledger;

import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerSearch;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Rows of {@code ledger_entry}. Nothing here changes or deletes one. */
public interface LedgerMapper {
  /** When the newest entry was written; cheap, and another one whenever anything happened. */
  @Nullable Instant latest();

  List<KeptEntry> search(LedgerSearch search);
}
