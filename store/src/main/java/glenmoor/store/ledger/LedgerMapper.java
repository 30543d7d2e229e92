package glenmoor.store.ledger;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Rows of {@code ledger_entry}. Nothing here changes or deletes one. */
public interface LedgerMapper {
  /** One entry; {@code entry} is its canonical JSON (RFC 8785). */
  record LedgerRow(
      Long id,
      Instant happenedAt,
      String actor,
      String cause,
      String subject,
      String what,
      String entry) {}

  /** Which entries a list asks for; newest first. */
  record LedgerSearch(
      @Nullable String subject,
      @Nullable String actor,
      @Nullable String what,
      @Nullable Instant beforeAt,
      @Nullable Long beforeId,
      int limit) {}

  /** When the newest entry was written; cheap, and another one whenever anything happened. */
  @Nullable Instant latest();

  List<LedgerRow> search(LedgerSearch search);
}
