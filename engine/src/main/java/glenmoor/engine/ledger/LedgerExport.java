package glenmoor.engine.ledger;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.KeptEntry;
import glenmoor.core.ledger.LedgerSearch;
import glenmoor.engine.Authorization;
import glenmoor.engine.jobs.ExportedList;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** The ledger as a file, the newest first. */
@Named
final class LedgerExport implements ExportedList {
  private static final int PAGE = 500;

  private final Ledger ledger;

  LedgerExport(Ledger ledger) {
    this.ledger = ledger;
  }

  @Override
  public String name() {
    return "ledger";
  }

  @Override
  public Optional<Permission> needs() {
    return Optional.of(Permission.READ_LEDGER);
  }

  @Override
  public List<String> filters() {
    return List.of("subject", "actor", "what");
  }

  @Override
  public void each(Map<String, String> filters, Actor actor, Consumer<List<String>> line) {
    Authorization.need(actor, Permission.READ_LEDGER);
    line.accept(List.of("entry", "happened", "actor", "cause", "subject", "what", "content"));
    var subject = filters.get("subject");
    @Nullable KeptEntry last = null;
    while (true) {
      var page =
          ledger.search(
              new LedgerSearch(
                  subject == null ? null : List.of(subject),
                  filters.get("actor"),
                  filters.get("what"),
                  last == null ? null : last.happenedAt(),
                  last == null ? null : last.id(),
                  PAGE),
              actor);
      page.forEach(each ->
          line.accept(
              List.of(
                  String.valueOf(each.id()),
                  each.happenedAt().toString(),
                  each.actor(),
                  each.cause(),
                  each.subject(),
                  each.what(),
                  each.entry())));
      if (page.size() < PAGE) {
        return;
      }
      last = page.getLast();
    }
  }
}
