package glenmoor.engine.reconcile;

import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.reconcile.Expectations;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.store.reconcile.ExpectedRows;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.Executors;

/** Reads what an application has beside what it should have, and keeps what does not agree. */
@Named
final class FoundReading {
  private final FoundMapper mapper;
  private final ExpectedRows expected;
  private final FoundLines lines;
  private final Connections connections;
  private final Catalogues catalogues;

  FoundReading(
      FoundMapper mapper,
      ExpectedRows expected,
      FoundLines lines,
      Connections connections,
      Catalogues catalogues) {
    this.mapper = mapper;
    this.expected = expected;
    this.lines = lines;
    this.connections = connections;
    this.catalogues = catalogues;
  }

  /**
   * Reads both sides, each once and at the same time.
   *
   * @param expectations takes what should be there, and learns what is
   * @throws Refused if the application lists nobody, and somebody is known there
   */
  FoundWriter read(
      long reconcile, Application application, Expectations expectations, WorkProgress progress) {
    var defined =
        catalogues.current().entitlements().values().stream()
            .filter(each -> each.application().equals(application.key()))
            .toList();
    var writer =
        new FoundWriter(reconcile, application.key(), defined, expectations, lines, progress);
    var withRights = application.can(Ability.LIST_MEMBERSHIPS);
    try (var listing =
            new Listing(reader ->
                connections.reading(
                    application,
                    connector -> {
                      connector.list(reader::account);
                      if (withRights) {
                        connector.memberships(reader::membership);
                      }
                    }));
        var beside = Executors.newSingleThreadExecutor(Thread.ofVirtual().factory())) {
      // Both are read at once: what is done for an account meanwhile is passed over.
      expected.accounts(application.key(), expectations::expect);
      var rights =
          CompletableFuture.runAsync(
              () -> {
                if (withRights) {
                  expected.rights(application.key(), expectations::expectRight);
                }
              },
              beside);
      listing.each(writer::account, writer::membership);
      rights.join();
    } catch (CompletionException failed) {
      throw failed.getCause() instanceof RuntimeException why ? why : failed;
    }
    writer.done(withRights);
    nothingIsNoAnswer(application, writer.accounts());
    return writer;
  }

  /** An application that lists nobody has lost its way more often than its accounts. */
  private void nothingIsNoAnswer(Application application, int listed) {
    var known = listed == 0 ? mapper.countKnown(application.key()) : 0;
    if (known > 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s lists no account at all, and %,d are known there. Nothing was compared: look whether its settings still lead to its accounts."
              .formatted(application.name(), known));
    }
  }
}
