package glenmoor.engine.reconcile;

import glenmoor.connect.applications.Connector;
import glenmoor.core.access.Entitlement;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.reconcile.FoundRight;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.reconcile.FoundMapper;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Keeps what an application lists, batch by batch, while it is read. */
final class FoundWriter {
  private static final int BATCH = 20_000;
  private static final int DIGEST_BYTES = 16;
  private static final int LONGEST_NAME = 400;
  private static final int LONGEST_WORKER = 64;
  private static final int LONGEST_TECHNICAL_NAME = 200;
  private static final int MOST_UNKNOWN_RIGHTS = 10_000;

  private record Right(String kind, String technicalName) {}

  private final long reconcile;
  private final String application;
  private final Bulk bulk;
  private final Transactions transactions;
  private final WorkProgress progress;
  private final Map<Right, String> entitlements = new HashMap<>();
  private final Map<Right, Integer> unknown =
      new TreeMap<>(Comparator.comparing(Right::kind).thenComparing(Right::technicalName));
  private final List<FoundMapper.Line> lines = new ArrayList<>();
  private final List<FoundMapper.Held> held = new ArrayList<>();
  private int accounts;
  private int memberships;

  FoundWriter(
      long reconcile,
      String application,
      Collection<Entitlement> defined,
      Bulk bulk,
      Transactions transactions,
      WorkProgress progress) {
    this.reconcile = reconcile;
    this.application = application;
    this.bulk = bulk;
    this.transactions = transactions;
    this.progress = progress;
    defined.forEach(
        each -> entitlements.put(new Right(each.kind(), each.technicalName()), each.key()));
  }

  int accounts() {
    return accounts;
  }

  /** Of rights that are defined. */
  int memberships() {
    return memberships;
  }

  /** Rights that no definition names, with how many hold them; no more than can be looked at. */
  List<FoundRight> unknown() {
    return unknown.entrySet().stream()
        .map(each ->
            new FoundRight(
                application, each.getKey().kind(), each.getKey().technicalName(), each.getValue()))
        .toList();
  }

  void account(Connector.Seen seen) {
    lines.add(
        new FoundMapper.Line(
            reconcile,
            ++accounts,
            digest(seen.reference()),
            seen.nativeId(),
            cut(seen.name(), LONGEST_NAME),
            cut(seen.container(), LONGEST_NAME),
            // A longer one is no worker number, and must not become one by being cut.
            seen.worker().length() > LONGEST_WORKER ? "" : seen.worker(),
            seen.enabled(),
            CanonicalJson.write(seen.attributes()),
            seen.lastUsed()));
    if (lines.size() == BATCH) {
      keep();
    }
  }

  void membership(Connector.Membership seen) {
    var right = new Right(seen.kind(), seen.technicalName());
    var key = entitlements.get(right);
    if (key == null) {
      if (seen.technicalName().length() <= LONGEST_TECHNICAL_NAME
          && (unknown.size() < MOST_UNKNOWN_RIGHTS || unknown.containsKey(right))) {
        unknown.merge(right, 1, Integer::sum);
      }
      return;
    }
    memberships++;
    held.add(new FoundMapper.Held(reconcile, digest(seen.reference()), key));
    if (held.size() == BATCH) {
      keep();
    }
  }

  /** Writes what was given since the last time. */
  void keep() {
    transactions.run(() -> {
      bulk.insert("found_account", lines);
      bulk.insert("found_holding", held);
    });
    lines.clear();
    held.clear();
    progress.at(0, 0, "%,d accounts and %,d rights read".formatted(accounts, memberships));
  }

  /** What an application calls an account may be long: a digest of it is compared. */
  static String digest(String text) {
    try {
      var bytes =
          MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
      return HexFormat.of().formatHex(Arrays.copyOf(bytes, DIGEST_BYTES));
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest) : text;
  }
}
