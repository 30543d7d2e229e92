package glenmoor.engine.exchange;

import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.connect.exchange.ExchangeFolder;
import glenmoor.connect.exchange.FilesConnector;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.exchange.Exchange;
import glenmoor.core.exchange.OrderFile;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.exchange.OrderFileMapper;
import glenmoor.store.exchange.OrderFileMapper.AccountRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes one file for an application, in one transaction with the note that what waits was handed
 * over. If it dies in between there is a file that nobody knows of; whatever stands in it stands in
 * the next one too, and no answer to it counts.
 */
@Named
final class OrderWriter {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int AT_ONCE = 2_000;
  private static final String DELETED = "deleted";

  private final OrderFileMapper files;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  OrderWriter(
      OrderFileMapper files,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.files = files;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Writes one.
   *
   * @param by a sign-in, or what else asked for it
   * @return nothing if only changes are wanted and nothing waits
   */
  Optional<OrderFile> write(
      Application application, Exchange rule, FilesConnector folder, String by) {
    var key = application.key();
    if (rule.rows() == Exchange.Rows.CHANGES && !files.waits(key)) {
      return Optional.empty();
    }
    return transactions.run(() -> {
      var at = moment(key);
      // First this: what is ordered from now on is not in the file, or is again in the next one.
      files.handOver(key, at);
      var name = ExchangeFolder.name(key, at);
      var rows = new int[1];
      folder.write(
          name,
          csv -> {
            csv.writeRecord(folder.headings());
            rows[0] = rows(application, rule.rows() == Exchange.Rows.ALL, csv);
          });
      var file =
          new OrderFile(ids.next(), key, name, rule.rows().word(), rows[0], by, at, null, 0, 0);
      files.insert(file);
      ledger.append(
          List.of(
              new LedgerEntry(
                  at,
                  by,
                  "",
                  "application:" + key,
                  "file-written",
                  Map.of(),
                  Map.of("file", name, "rows", rows[0]))));
      return Optional.of(file);
    });
  }

  /** Now, to the millisecond that stands in names; later than every file before. */
  private Instant moment(String application) {
    var now = clock.instant().truncatedTo(ChronoUnit.MILLIS);
    var newest = files.newest(application);
    return newest == null || newest.writtenAt().isBefore(now)
        ? now
        : newest.writtenAt().plusMillis(1);
  }

  private int rows(Application application, boolean all, CsvWriter csv) {
    var technical =
        catalogues.current().entitlements().values().stream()
            .filter(each -> each.application().equals(application.key()))
            .collect(Collectors.toMap(each -> each.key(), each -> each.technicalName()));
    var count = 0;
    var after = 0L;
    while (true) {
      var accounts = files.accounts(application.key(), all, after, AT_ONCE);
      if (accounts.isEmpty()) {
        return count;
      }
      for (var account : accounts) {
        csv.writeRecord(row(account, application, technical));
      }
      count += accounts.size();
      after = accounts.getLast().id();
    }
  }

  private static List<String> row(
      AccountRow account, Application application, Map<String, String> technical) {
    var deleted = account.state().equals(AccountState.NONE.word());
    var attributes = JSON.readTree(account.attributes());
    var row = new ArrayList<String>();
    row.add(account.worker());
    row.add(account.name());
    row.add(deleted ? DELETED : account.state());
    application.attributes().keySet().stream()
        .map(attributes::path)
        .map(value -> value.asString(""))
        .forEach(row::add);
    row.add(deleted ? "" : rights(account, technical));
    return row;
  }

  private static String rights(AccountRow account, Map<String, String> technical) {
    return account.entitlements() == null
        ? ""
        : Arrays.stream(account.entitlements().split(" "))
            .map(technical::get)
            .filter(Objects::nonNull)
            .collect(Collectors.joining(";"));
  }

  /** Notes an answer; whether it is one that was not known. */
  boolean isNew(Application application, FilesConnector.Answered answer) {
    var now = clock.instant();
    return transactions.run(() -> {
      var noted =
          files.answered(
                  application.key(), answer.order(), now, answer.accounts(), answer.problems())
              > 0;
      if (noted) {
        ledger.append(
            List.of(
                new LedgerEntry(
                    now,
                    "connector:" + application.key(),
                    "",
                    "application:" + application.key(),
                    "file-answered",
                    Map.of(),
                    Map.of(
                        "file",
                        answer.order(),
                        "accounts",
                        answer.accounts(),
                        "problems",
                        answer.problems()))));
      }
      return noted;
    });
  }
}
