package glenmoor.engine.usage;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.NamedCsvRecord;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.usage.Used;
import glenmoor.core.usage.Used.Read;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.usage.UsageMapper;
import glenmoor.store.usage.UsageMapper.ToldRow;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Takes what applications tell of use, by a file (CSV, RFC 4180) or a call: lines are staged, and
 * joined to accounts all at once. What is older than what is known changes nothing, so the same
 * file taken twice is the same as once.
 */
@Named
public final class UsageTold {
  private static final int AT_ONCE = 10_000;
  private static final int MOST_IN_CALL = 1_000;
  private static final int MOST_REJECTS = 100;
  private static final List<String> COLUMNS =
      List.of("account", "worker", "entitlement", "last used");

  /** One use as it is told; texts may be empty. */
  public record Told(String account, String worker, String entitlement, String lastUsed) {}

  /** A line that could not be taken; lines of a file count its heading. */
  public record NotTaken(int line, String sentence) {}

  /**
   * What came of it.
   *
   * @param notTaken the first so many
   */
  public record UsageTaken(
      String application, int lines, int taken, int rejected, List<NotTaken> notTaken) {}

  /** The application that a file is of. */
  public record UsageFile(String application, String fileName) {}

  private final UsageMapper usage;
  private final KnownApplications applications;
  private final Catalogues catalogues;
  private final Bulk bulk;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Jobs jobs;
  private final Ids ids;
  private final Clock clock;
  private final FileWork work = new FileWork();

  UsageTold(
      UsageMapper usage,
      KnownApplications applications,
      Catalogues catalogues,
      Bulk bulk,
      Transactions transactions,
      Ledger ledger,
      Jobs jobs,
      Ids ids,
      Clock clock) {
    this.usage = usage;
    this.applications = applications;
    this.catalogues = catalogues;
    this.bulk = bulk;
    this.transactions = transactions;
    this.ledger = ledger;
    this.jobs = jobs;
    this.ids = ids;
    this.clock = clock;
    jobs.doneBy(work);
  }

  /**
   * Begins to take a file: columns account or worker, entitlement (a key or a technical name; may
   * be left out) and last used.
   *
   * @return the identity of the work; its result is {@link UsageTaken}
   * @throws IOException if the file breaks off
   */
  public long load(String application, String fileName, InputStream content, Actor actor)
      throws IOException {
    var known = applications.of(application, Permission.TELL_USE, actor);
    var id = jobs.next();
    jobs.keep(id, content);
    try {
      return jobs.begin(
          id, work, "taking " + fileName, new UsageFile(known.key(), fileName), actor);
    } catch (RuntimeException failed) {
      jobs.forget(id);
      throw failed;
    }
  }

  /**
   * Takes some uses at once.
   *
   * @throws Refused if they are too many for one call
   */
  public UsageTaken take(String application, List<Told> told, Actor actor) {
    var known = applications.of(application, Permission.TELL_USE, actor);
    if (told.isEmpty() || told.size() > MOST_IN_CALL) {
      throw Refused.badInput(
          "One call tells from 1 to %,d uses; this one tells %,d. Send more as a file."
              .formatted(MOST_IN_CALL, told.size()));
    }
    return transactions.run(() -> {
      var staging = new Staging(known);
      for (var i = 0; i < told.size(); i++) {
        staging.add(i + 1, told.get(i));
      }
      staging.flush();
      return staging.taken(actor);
    });
  }

  private final class FileWork implements LongWork<UsageFile> {
    @Override
    public String kind() {
      return "usage-load";
    }

    @Override
    public Class<UsageFile> input() {
      return UsageFile.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(UsageTaken.class);
    }

    @Override
    public Object run(UsageFile input, Actor actor, WorkProgress progress) {
      var known = applications.of(input.application(), Permission.TELL_USE, actor);
      var staging = new Staging(known);
      try {
        read(staging, progress);
        return transactions.run(() -> {
          var taken = staging.taken(actor);
          progress.keep(taken);
          return taken;
        });
      } catch (RuntimeException failed) {
        transactions.run(() -> usage.forget(staging.batch));
        throw failed;
      }
    }

    private void read(Staging staging, WorkProgress progress) {
      try (var reader =
              CsvReader.builder()
                  .ofNamedCsvRecord(
                      new InputStreamReader(
                          progress.content(),
                          StandardCharsets.UTF_8
                              .newDecoder()
                              .onMalformedInput(CodingErrorAction.REPORT)));
          var rows = reader.stream()) {
        var all = rows.iterator();
        @Nullable List<String> heading = null;
        while (all.hasNext()) {
          var row = all.next();
          if (heading == null) {
            heading = row.getHeader();
            check(heading);
          }
          staging.add(Math.toIntExact(row.getStartingLineNumber()), told(row));
          if (staging.full()) {
            transactions.run(staging::flush);
            progress.at(staging.lines, 0, "%,d lines read".formatted(staging.lines));
          }
        }
        transactions.run(staging::flush);
      } catch (IOException failed) {
        throw new UncheckedIOException(failed);
      } catch (CsvParseException broken) {
        throw Refused.badInput("The file is no CSV that can be read: " + broken.getMessage());
      } catch (UncheckedIOException broken) {
        throw Refused.badInput("The file breaks off, or is not in UTF-8; nothing was taken.");
      }
    }
  }

  private static void check(List<String> heading) {
    if (!heading.contains("last used")
        || !heading.contains("account") && !heading.contains("worker")) {
      throw Refused.badInput(
          "The first line names the columns, some of %s: at least account or worker, and last used. This one is: %s."
              .formatted(String.join(", ", COLUMNS), String.join(", ", heading)));
    }
  }

  private static Told told(NamedCsvRecord row) {
    return new Told(
        row.findField("account").orElse(""),
        row.findField("worker").orElse(""),
        row.findField("entitlement").orElse(""),
        row.findField("last used").orElse(""));
  }

  /** Lines on their way to be joined to accounts. */
  private final class Staging {
    private final Application application;
    private final Map<String, String> rights = new HashMap<>();
    private final long batch = ids.next();
    private final List<ToldRow> rows = new ArrayList<>();
    private final List<NotTaken> wrong = new ArrayList<>();
    private int lines;
    private int rejected;

    Staging(Application application) {
      this.application = application;
      for (Entitlement each : catalogues.current().entitlements().values()) {
        if (each.application().equals(application.key())) {
          rights.put(each.technicalName(), each.key());
        }
      }
      rights.values().stream().toList().forEach(key -> rights.put(key, key));
    }

    boolean full() {
      return rows.size() >= AT_ONCE;
    }

    void add(int line, Told told) {
      lines++;
      switch (Used.read(
          told.account(),
          told.worker(),
          told.entitlement(),
          told.lastUsed(),
          rights,
          catalogues.zone(),
          clock.instant())) {
        case Read.Good good -> {
          var used = good.used();
          rows.add(
              new ToldRow(
                  batch, line, used.account(), used.worker(), used.entitlement(), used.at(), null));
        }
        case Read.Wrong each -> reject(line, each.sentence());
      }
    }

    private void reject(int line, String sentence) {
      rejected++;
      if (wrong.size() < MOST_REJECTS) {
        wrong.add(new NotTaken(line, sentence));
      }
    }

    void flush() {
      bulk.insert("told_use", rows);
      rows.clear();
    }

    /** Joins all that was staged to accounts and keeps it, inside the caller's transaction. */
    UsageTaken taken(Actor actor) {
      var now = clock.instant();
      usage.joinByAccount(batch, application.key());
      usage.joinByWorker(batch, application.key());
      usage.keep(batch, now);
      usage.keepAccounts(batch, now);
      var kept = usage.countKept(batch);
      var unknown = lines - rejected - kept;
      for (var row : usage.unknown(batch, MOST_REJECTS)) {
        if (wrong.size() < MOST_REJECTS) {
          wrong.add(
              new NotTaken(
                  row.line(),
                  row.account().isEmpty()
                      ? "The person %s has no account there that is known here."
                          .formatted(row.worker())
                      : "There is no account %s there that is known here."
                          .formatted(row.account())));
        }
      }
      usage.forget(batch);
      ledger.append(
          new LedgerEntry(
              now,
              actor.login(),
              "",
              "application:" + application.key(),
              "usage-taken",
              Map.of(),
              Map.of("lines", lines, "taken", kept, "rejected", rejected + unknown)));
      return new UsageTaken(application.key(), lines, kept, rejected + unknown, List.copyOf(wrong));
    }
  }
}
