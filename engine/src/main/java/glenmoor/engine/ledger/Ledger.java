package glenmoor.engine.ledger;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.ledger.LedgerSearch;
import glenmoor.engine.Authorization;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.ledger.LedgerMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * The record of everything that happened. Entries are appended in the transaction that decided
 * them; sealing them into a chain comes after, in an order of its own.
 */
@Named
public final class Ledger {
  private final LedgerMapper mapper;
  private final Bulk bulk;
  private final Ids ids;

  public Ledger(LedgerMapper mapper, Bulk bulk, Ids ids) {
    this.mapper = mapper;
    this.bulk = bulk;
    this.ids = ids;
  }

  public void append(LedgerEntry entry) {
    append(List.of(entry));
  }

  public void append(List<LedgerEntry> entries) {
    bulk.insert("ledger_entry", entries.stream().map(entry -> row(ids.next(), entry)).toList());
  }

  /** The row an entry is kept as. */
  public static KeptEntry row(long id, LedgerEntry entry) {
    var all = new LinkedHashMap<String, Object>();
    all.put("actor", entry.actor());
    all.put("after", entry.after());
    all.put("at", entry.at().toString());
    all.put("before", entry.before());
    all.put("cause", entry.cause());
    all.put("id", id);
    all.put("subject", entry.subject());
    all.put("what", entry.what());
    return new KeptEntry(
        id,
        entry.at(),
        entry.actor(),
        entry.cause(),
        entry.subject(),
        entry.what(),
        CanonicalJson.write(all));
  }

  /** When the newest entry was written, and nothing of what it says; null before the first. */
  public @Nullable Instant latest() {
    return mapper.latest();
  }

  public List<KeptEntry> search(LedgerSearch search, Actor actor) {
    Authorization.need(actor, Permission.READ_LEDGER);
    return mapper.search(search);
  }
}
