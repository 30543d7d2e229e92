package glenmoor.engine.erasure;

import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.erasure.Mentions;
import glenmoor.core.erasure.Mentions.Term;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Latin;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Parts;
import glenmoor.store.erasure.ErasureMapper;
import glenmoor.store.erasure.ErasureMapper.Erasure;
import glenmoor.store.erasure.Past;
import glenmoor.store.erasure.Texts;
import glenmoor.store.erasure.Texts.Changed;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import tools.jackson.databind.json.JsonMapper;

/**
 * Forgets people who were erased: goes through all texts that name them and puts their worker
 * number there, and takes out of the versions of records before who they were. It comes some time
 * after the erasing, once every version that could still say so is in the past, and does it for all
 * of them at once: all texts are read, which takes minutes where there are millions. Stopped on its
 * way it begins anew, since what names them is kept until it is done.
 */
@Named
public final class Forgetting implements RecurringJob.Owner {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration LOOK = Duration.ofMinutes(10);
  private static final Duration LATER = Duration.ofHours(1);
  private static final int AT_ONCE = 5_000;
  private static final int WRITTEN_AT_ONCE = 1_000;
  private static final int TIMES = 3;

  private final ErasureMapper erasures;
  private final Texts texts;
  private final Past past;
  private final Map<String, SignedText> signed;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Clock clock;

  Forgetting(
      ErasureMapper erasures,
      DataSource dataSource,
      List<SignedText> signed,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Clock clock) {
    this.erasures = erasures;
    this.signed = signed.stream().collect(Collectors.toMap(SignedText::table, each -> each));
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.clock = clock;
    texts = new Texts(dataSource);
    past = new Past(dataSource);
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "forgetting",
            "takes out of texts and of versions before who was erased",
            LOOK,
            this::carryOut));
  }

  /**
   * Forgets whoever was erased an hour ago or before.
   *
   * @return how many people
   */
  public int carryOut() {
    var before = clock.instant().minus(LATER);
    freedNames();
    var open = transactions.run(() -> erasures.open(before, AT_ONCE));
    if (open.isEmpty()) {
      return 0;
    }
    var people = open.stream().map(Erasure::personId).distinct().toList();
    var changed = withoutMentions(new Mentions(terms(open)));
    transactions.run(() -> past.forget(people, before));
    transactions.run(() -> {
      erasures.forgotten(people, before, clock.instant(), changed);
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              "glenmoor",
              "",
              "erasures",
              "people-forgotten",
              Map.of(),
              Map.of("people", people.size(), "texts", changed)));
    });
    return people.size();
  }

  /** A name that somebody else bears as well names both of them, and stays where it stands. */
  private List<Term> terms(List<Erasure> open) {
    var all = new ArrayList<Term>();
    open.forEach(each -> Collections.addAll(all, JSON.readValue(each.terms(), Term[].class)));
    var others = new HashSet<String>();
    Parts.each(all, WRITTEN_AT_ONCE, part -> others.addAll(transactions.run(() -> others(part))));
    return all.stream()
        .filter(term -> !others.contains(Latin.letters(term.text())))
        .filter(term -> !others.contains(term.text().toLowerCase(Locale.ROOT)))
        .toList();
  }

  private Set<String> others(List<Term> part) {
    var found =
        new HashSet<>(
            erasures.bornByOthers(
                part.stream().map(term -> Latin.letters(term.text())).distinct().toList()));
    found.addAll(
        erasures.usedByOthers(
            part.stream().map(term -> term.text().toLowerCase(Locale.ROOT)).distinct().toList()));
    return found;
  }

  private int withoutMentions(Mentions mentions) {
    var written = 0;
    for (var table : mentions.isEmpty() ? List.<Texts.Table>of() : texts.tables()) {
      // What somebody changed in between is looked at again.
      for (var time = 0; time < TIMES; time++) {
        var changed = texts.changed(table, mentions::without);
        if (changed.isEmpty()) {
          break;
        }
        Parts.each(changed, WRITTEN_AT_ONCE, part -> transactions.run(() -> write(table, part)));
        written += changed.size();
      }
    }
    return written;
  }

  private void write(Texts.Table table, List<Changed> rows) {
    var keeper = signed.get(table.name());
    if (keeper != null) {
      keeper.keep(rows.stream().map(row -> ((Number) row.key().getFirst()).longValue()).toList());
    }
    texts.write(table, rows);
  }

  /** Names of accounts that are kept from others are kept no longer than an application says. */
  private void freedNames() {
    Instant now = clock.instant();
    catalogues
        .current()
        .defined()
        .all(ApplicationKind.class)
        .values()
        .forEach(application ->
            transactions.run(() ->
                erasures.dropFreedNames(
                    application.key(), now.minus(Duration.ofDays(application.namesKeptDays())))));
  }
}
