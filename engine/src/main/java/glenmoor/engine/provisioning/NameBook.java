package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.AccountNames;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.Planner;
import glenmoor.store.provisioning.AccountMapper;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Whose names are, as the database knows it; what a batch will ask is looked up together. */
final class NameBook implements AccountNames.Register {
  private static final int AHEAD = 4;

  private final AccountMapper accounts;
  private final Catalogue catalogue;
  private final Instant now;
  private final Map<String, Map<String, Integer>> highest = new HashMap<>();
  private final Map<String, Map<String, Long>> holders = new HashMap<>();

  NameBook(AccountMapper accounts, Catalogue catalogue, Instant now) {
    this.accounts = accounts;
    this.catalogue = catalogue;
    this.now = now;
  }

  /** When a name of this application must have been given up to be free by now. */
  static Instant cutoff(Application application, Instant now) {
    return now.minus(Duration.ofDays(application.namesKeptDays()));
  }

  private Instant cutoff(String application) {
    return cutoff(catalogue.application(application), now);
  }

  /** Looks up what planning for these people will ask: two questions an application. */
  void prepare(Collection<PersonSnapshot> snapshots) {
    Planner.baseNames(snapshots, catalogue)
        .forEach((application, bases) -> {
          var numbers = highest.computeIfAbsent(application, key -> new HashMap<>());
          bases.forEach(base -> numbers.putIfAbsent(base, 0));
          accounts
              .highest(application, bases, cutoff(application))
              .forEach(row -> numbers.merge(row.baseName(), row.number(), Math::max));
          var keys = likely(catalogue.application(application), bases, numbers);
          var known = holders.computeIfAbsent(application, key -> new HashMap<>());
          keys.forEach(key -> known.put(key, NOBODY));
          accounts
              .holders(application, keys, cutoff(application))
              .forEach(row -> known.put(row.nameKey(), row.accountId()));
        });
  }

  private static Set<String> likely(
      Application application, Set<String> bases, Map<String, Integer> numbers) {
    var keys = new HashSet<String>();
    for (var base : bases) {
      var next = numbers.getOrDefault(base, 0) + 1;
      for (var number = next; number < next + AHEAD; number++) {
        keys.add(AccountNames.key(AccountNames.numbered(base, number, application.longestName())));
      }
    }
    return keys;
  }

  @Override
  public int highest(String application, String baseName) {
    return highest
        .computeIfAbsent(application, key -> new HashMap<>())
        .computeIfAbsent(
            baseName,
            base ->
                accounts.highest(application, List.of(base), cutoff(application)).stream()
                    .findFirst()
                    .map(AccountMapper.Highest::number)
                    .orElse(0));
  }

  @Override
  public long holder(String application, String key) {
    return holders
        .computeIfAbsent(application, each -> new HashMap<>())
        .computeIfAbsent(
            key,
            each ->
                accounts.holders(application, List.of(each), cutoff(application)).stream()
                    .findFirst()
                    .map(AccountMapper.Holder::accountId)
                    .orElse(NOBODY));
  }
}
