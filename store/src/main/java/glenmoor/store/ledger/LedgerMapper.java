package glenmoor.store.ledger;

import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerSearch;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/**
 * Rows of {@code ledger_entry}. Nothing deletes one, and nothing changes one but what takes out who
 * somebody was; the leaf of what stood there stays.
 */
public interface LedgerMapper {
  /** When the newest entry was written; cheap, and another one whenever anything happened. */
  @Nullable Instant latest();

  List<KeptEntry> search(LedgerSearch search);

  /** Entries about one subject, oldest first, after one. */
  List<KeptEntry> about(
      @Param("subject") String subject, @Param("after") long after, @Param("limit") int limit);

  /**
   * Keeps the leaf (RFC 9162, section 2.1.1) of these entries as they stand, where it is not kept.
   */
  void keepLeaves(@Param("ids") Collection<Long> ids);

  /**
   * Writes other texts for entries, whose leaves are kept.
   *
   * @param entries a JSON array of {@code id} and {@code entry}
   */
  void rewrite(@Param("entries") String entries);
}
