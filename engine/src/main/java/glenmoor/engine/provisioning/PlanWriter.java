package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.applications.AccountState;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.CutOff;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.AccountNames;
import glenmoor.core.provisioning.AccountOrder;
import glenmoor.core.provisioning.Cause;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.PersonPlan.AccountPlan;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.Parts;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.lifecycle.CutOffMapper;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.AccountOrderMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Keeps plans: grants, accounts, holdings, operations and what is due next, a few statements a
 * batch.
 */
@Named
public final class PlanWriter {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int STATEMENT = 500;
  private static final String ACTOR = "glenmoor";
  private static final Duration SET_ASIDE = Duration.ofDays(1);

  private final PersonMapper people;
  private final EventMapper events;
  private final GrantMapper grants;
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final Overtaking overtaking;
  private final WorkList workList;
  private final CutOffMapper cutOffs;
  private final AccountOrderMapper orders;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  public PlanWriter(
      PersonMapper people,
      EventMapper events,
      GrantMapper grants,
      AccountMapper accounts,
      OperationMapper operations,
      CutOffMapper cutOffs,
      AccountOrderMapper orders,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    this.people = people;
    this.events = events;
    this.grants = grants;
    this.accounts = accounts;
    this.operations = operations;
    this.cutOffs = cutOffs;
    this.orders = orders;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
    overtaking = new Overtaking(operations);
    workList = new WorkList(people, ledger);
  }

  /**
   * Keeps the plans of one batch.
   *
   * @param causes why each person was due, by the person's identity
   */
  void keep(List<PersonPlan> plans, Map<Long, String> causes, Catalogue catalogue, Instant now) {
    var persons = plans.stream().map(plan -> plan.person().id().value()).toList();
    var batch = new Batch(catalogue, now);
    var latest = new HashMap<Long, Long>();
    events.latest(persons).forEach(row -> latest.put(row.personId(), row.id()));
    for (var plan : plans) {
      var id = plan.person().id().value();
      batch.add(plan, latest.get(id), causes.getOrDefault(id, "date"));
    }
    batch.keep();
    events.planned(persons, now);
    agreed(plans, now.atZone(catalogue.zone()).toLocalDate(), now);
    due(plans);
    deviations(plans, now);
    orders.endKind(persons, AccountOrder.Kind.LEAVE.word(), now);
    workList.keep(plans, now);
  }

  /** Sets a person aside until tomorrow, or until something about them changes. */
  void setAside(long person, String sentence, Instant now) {
    people.setDue(Map.of(person, now.plus(SET_ASIDE)));
    workList.setAside(person, sentence, now);
  }

  /** Lets what waits for a person's accounts go before all else. */
  void beforeAll(long person) {
    var lanes = accounts.of(List.of(person)).stream().map(AccountRow::id).toList();
    if (!lanes.isEmpty()) {
      operations.beforeAll(lanes, Instant.EPOCH);
      operations.look(lanes);
    }
  }

  /** A cut-off is over once the source says by itself that the person has left. */
  private void agreed(List<PersonPlan> plans, LocalDate today, Instant now) {
    var people =
        plans.stream()
            .map(PersonPlan::person)
            .filter(
                person -> person.cutOff() != null && Standing.of(person.bySource(), today).isGone())
            .toList();
    if (people.isEmpty()) {
      return;
    }
    var ids = people.stream().map(person -> person.id().value()).toList();
    cutOffs.mark(ids, null, now, "date");
    cutOffs.end(ids, now, ACTOR, CutOff.Ending.AGREED.word(), "", null);
    ledger.append(
        people.stream()
            .map(person ->
                new LedgerEntry(
                    now,
                    ACTOR,
                    "",
                    "person:" + person.worker(),
                    "cut-off-agreed",
                    Map.of(),
                    Map.of("cutOffOn", String.valueOf(person.cutOff()))))
            .toList());
  }

  private void deviations(List<PersonPlan> plans, Instant now) {
    var ended =
        plans.stream()
            .flatMap(plan -> plan.endedDeviations().stream())
            .map(each -> each.id())
            .toList();
    if (!ended.isEmpty()) {
      operations.endDeviations(ended, now);
    }
  }

  private void due(List<PersonPlan> plans) {
    var due = new HashMap<Long, Instant>();
    var never = new ArrayList<Long>();
    for (var plan : plans) {
      var id = plan.person().id().value();
      plan.nextDue().ifPresentOrElse(at -> due.put(id, at), () -> never.add(id));
    }
    if (!due.isEmpty()) {
      people.setDue(due);
    }
    if (!never.isEmpty()) {
      people.clearDue(never);
    }
  }

  /** What a batch of plans comes to, as rows. */
  private final class Batch {
    private final Instant now;
    private final List<GrantRow> begun = new ArrayList<>();
    private final List<GrantMapper.Ended> ended = new ArrayList<>();
    private final List<AccountRow> made = new ArrayList<>();
    private final List<AccountRow> changed = new ArrayList<>();
    private final List<HoldingRow> holdings = new ArrayList<>();
    private final List<OperationRow> outbox = new ArrayList<>();
    private final List<LaneRow> lanes = new ArrayList<>();
    private final List<LedgerEntry> entries = new ArrayList<>();

    private final List<AccountMapper.Name> taken = new ArrayList<>();
    private final List<AccountMapper.Name> freed = new ArrayList<>();
    private final List<Overtaking.New> commands = new ArrayList<>();
    private final Catalogue catalogue;

    Batch(Catalogue catalogue, Instant now) {
      this.catalogue = catalogue;
      this.now = now;
    }

    /**
     * @param event the latest HR event of the person; null for none
     * @param trigger why the person was due
     */
    void add(PersonPlan plan, @Nullable Long event, String trigger) {
      var subject = "person:" + plan.person().worker().value();
      var cause = Cause.FACTS.byEvent(trigger) && event != null ? "event:" + event : trigger;
      for (var grant : plan.begin()) {
        begun.add(PersonSnapshots.row(ids.next(), grant));
        entries.add(entry(subject, cause, "grant-began", Map.of(), describe(grant)));
      }
      for (var grant : plan.amend()) {
        ended.add(ended(grant));
        var what = grant.endsAt() == null ? "grant-kept" : "grant-ended";
        var revocation = plan.revoked().get(grant.id());
        entries.add(
            entry(
                subject,
                revocation == null ? cause : "revocation:" + revocation,
                what,
                Map.of(),
                describe(grant)));
      }
      plan.accounts().forEach(account -> add(account, event, trigger));
    }

    private void add(AccountPlan plan, @Nullable Long event, String trigger) {
      var after = plan.after();
      var id = after.id() == 0 ? ids.next() : after.id();
      (after.id() == 0 ? made : changed).add(row(id, after));
      var keys = new TreeSet<>(after.entitlements());
      plan.before().ifPresent(before -> keys.addAll(before.entitlements()));
      for (var key : keys) {
        var desired = after.entitlements().contains(key);
        if (desired != plan.before().filter(b -> b.entitlements().contains(key)).isPresent()) {
          holdings.add(new HoldingRow(id, key, desired, false, null));
        }
      }
      names(plan, id);
      var sequence = after.nextSequence() - plan.commands().size();
      var causes = plan.causes().iterator();
      for (var command : plan.commands()) {
        var cause = causes.next();
        var operation = ids.next();
        if (plan.before().isPresent()) {
          commands.add(new Overtaking.New(operation, id, command, after.unneededSince() != null));
        }
        outbox.add(
            OperationRow.waiting(
                operation,
                id,
                after.person().value(),
                after.application(),
                cause.byEvent(trigger) ? event : null,
                cause.word(trigger),
                sequence++,
                command.word(),
                command.opensLane(),
                CommandJson.write(command),
                now));
      }
      if (!plan.commands().isEmpty()) {
        lanes.add(new LaneRow(id, after.application(), now));
      }
    }

    /** A name is taken when it is planned, and given up when the account has another, or none. */
    private void names(AccountPlan plan, long id) {
      var after = plan.after();
      var before = plan.before().filter(each -> each.state() != AccountState.NONE);
      var has = after.state() != AccountState.NONE;
      if (has && before.filter(each -> each.name().equals(after.name())).isEmpty()) {
        taken.add(name(after, id));
      }
      before
          .filter(each -> !has || !each.name().equals(after.name()))
          .ifPresent(each -> freed.add(name(each, id)));
    }

    private AccountMapper.Name name(Account account, long id) {
      return new AccountMapper.Name(
          account.application(),
          AccountNames.key(account.name()),
          account.name(),
          account.baseName(),
          account.number(),
          id,
          SqlTime.write(NameBook.cutoff(catalogue.application(account.application()), now)));
    }

    private LedgerEntry entry(
        String subject,
        String cause,
        String what,
        Map<String, Object> before,
        Map<String, Object> after) {
      return new LedgerEntry(now, ACTOR, cause, subject, what, before, after);
    }

    void keep() {
      bulk.insert("access_grant", begun);
      if (!ended.isEmpty()) {
        grants.end(JSON.writeValueAsString(ended));
      }
      var overtaken = overtaking.by(commands, now);
      entries.addAll(overtaken.entries());
      if (!freed.isEmpty()) {
        accounts.freeNames(JSON.writeValueAsString(freed), now);
      }
      if (!taken.isEmpty()) {
        var names = JSON.writeValueAsString(taken);
        accounts.clearNames(names);
        accounts.takeNames(names);
      }
      bulk.insert("account", made);
      Parts.each(changed, STATEMENT, accounts::update);
      Parts.each(holdings, STATEMENT, accounts::desire);
      bulk.insert("operation", outbox);
      Parts.each(lanes, STATEMENT, operations::due);
      if (!overtaken.lanes().isEmpty()) {
        operations.look(overtaken.lanes());
      }
      ledger.append(entries);
    }
  }

  private static GrantMapper.Ended ended(Grant grant) {
    var endsAt = grant.endsAt();
    return new GrantMapper.Ended(
        grant.id(), endsAt == null ? null : SqlTime.write(endsAt), grant.endReason());
  }

  private static AccountRow row(long id, Account account) {
    return new AccountRow(
        id,
        account.person().value(),
        account.application(),
        account.baseName(),
        account.number(),
        account.name(),
        account.container(),
        CanonicalJson.write(account.attributes()),
        account.state().word(),
        AccountState.NONE.word(),
        "",
        "",
        "{}",
        null,
        account.unneededSince(),
        account.nextSequence());
  }

  private static Map<String, Object> describe(Grant grant) {
    var described = new HashMap<String, Object>();
    described.put("target", grant.target().key());
    described.put("basis", grant.basis().word());
    described.put("basisKey", grant.basisKey());
    described.put("startsAt", grant.startsAt().toString());
    if (grant.endsAt() != null) {
      described.put("endsAt", grant.endsAt().toString());
      described.put("reason", grant.endReason());
    }
    return described;
  }
}
