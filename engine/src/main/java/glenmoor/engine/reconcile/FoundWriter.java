package glenmoor.engine.reconcile;

import glenmoor.connect.applications.Connector;
import glenmoor.core.access.Entitlement;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.reconcile.Expectations;
import glenmoor.core.reconcile.FoundRight;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.store.Parts;
import glenmoor.store.reconcile.FoundMapper;
import glenmoor.store.time.SqlTime;
import glenmoor.store.usage.UsageMapper;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * Keeps what an application lists, batch by batch, while it is read: what is not as it should be,
 * and what is nobody's. What agrees is counted, and what it tells of its use is kept.
 */
final class FoundWriter {
  private static final int BATCH = 20_000;
  private static final int DIGEST_DIGITS = 32;
  private static final int LONGEST_NAME = 400;
  private static final int LONGEST_WORKER = 64;
  private static final int LONGEST_TECHNICAL_NAME = 200;
  private static final int MOST_UNKNOWN_RIGHTS = 10_000;

  private record Right(String kind, String technicalName) {}

  private final long reconcile;
  private final String application;
  private final Expectations expectations;
  private final FoundLines kept;
  private final WorkProgress progress;
  private final Map<Right, String> entitlements = new HashMap<>();
  private final Map<Right, Integer> unknown =
      new TreeMap<>(Comparator.comparing(Right::kind).thenComparing(Right::technicalName));
  private final List<FoundMapper.Line> lines = new ArrayList<>();
  private final List<FoundMapper.Held> held = new ArrayList<>();
  private final List<UsageMapper.Listed> uses = new ArrayList<>();
  private int accounts;
  private int memberships;

  FoundWriter(
      long reconcile,
      String application,
      Collection<Entitlement> defined,
      Expectations expectations,
      FoundLines kept,
      WorkProgress progress) {
    this.reconcile = reconcile;
    this.application = application;
    this.expectations = expectations;
    this.kept = kept;
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
    accounts++;
    var attributes = CanonicalJson.write(seen.attributes());
    var place =
        expectations.listed(
            seen.reference(),
            seen.nativeId(),
            seen.worker(),
            seen.name(),
            seen.container(),
            seen.enabled(),
            attributes);
    if (!place.agrees()) {
      lines.add(line(seen, place.number(), attributes));
    } else if (seen.lastUsed() != null) {
      uses.add(new UsageMapper.Listed(place.account(), SqlTime.write(seen.lastUsed())));
    }
    if (lines.size() == BATCH || uses.size() == BATCH) {
      keep();
    } else if (accounts % BATCH == 0) {
      tell();
    }
  }

  private FoundMapper.Line line(Connector.Seen seen, int number, String attributes) {
    return new FoundMapper.Line(
        reconcile,
        accounts,
        String.valueOf(number),
        seen.nativeId(),
        cut(seen.name(), LONGEST_NAME),
        cut(seen.container(), LONGEST_NAME),
        // A longer one is no worker number, and must not become one by being cut.
        seen.worker().length() > LONGEST_WORKER ? "" : seen.worker(),
        seen.enabled(),
        attributes,
        seen.lastUsed());
  }

  void membership(Connector.Membership seen) {
    var right = new Right(seen.kind(), seen.technicalName());
    var key = entitlements.get(right);
    if (key != null) {
      memberships++;
      expectations.holds(seen.reference(), key);
    } else if (seen.technicalName().length() <= LONGEST_TECHNICAL_NAME
        && (unknown.size() < MOST_UNKNOWN_RIGHTS || unknown.containsKey(right))) {
      unknown.merge(right, 1, Integer::sum);
    }
  }

  /**
   * Writes the rest, once everything is read.
   *
   * @param withRights whether the application told who holds what
   */
  void done(boolean withRights) {
    keep();
    if (withRights) {
      var asExpected = new ArrayList<FoundMapper.AsExpected>();
      expectations.differingRights((id, number) ->
          asExpected.add(
              new FoundMapper.AsExpected(
                  id, accounts + asExpected.size() + 1, String.valueOf(number))));
      Parts.each(asExpected, BATCH, part -> kept.keepAsExpected(reconcile, part));
      expectations.keptRights((number, entitlement) -> {
        held.add(new FoundMapper.Held(reconcile, String.valueOf(number), entitlement));
        if (held.size() == BATCH) {
          keep();
        }
      });
      keep();
    }
  }

  private void keep() {
    kept.keep(lines, held, uses);
    lines.clear();
    held.clear();
    uses.clear();
    tell();
  }

  private void tell() {
    progress.at(0, 0, "%,d accounts and %,d rights read".formatted(accounts, memberships));
  }

  /** What an application calls an account may be long: a digest of it is compared. */
  static String digest(String text) {
    return DigestUtils.sha256Hex(text).substring(0, DIGEST_DIGITS);
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest) : text;
  }
}
