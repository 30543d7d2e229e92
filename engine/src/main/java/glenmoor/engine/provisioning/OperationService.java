package glenmoor.engine.provisioning;

import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Reach;
import glenmoor.core.authorization.Scope;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import jakarta.inject.Named;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What people see of operations, and passcodes, which are operations that somebody asks for. */
@Named
public final class OperationService {
  private static final List<String> STATES =
      List.of("waiting", "confirmed", "fault", "task", "by-hand", "given-up", "superseded");
  private static final List<String> KINDS =
      List.of("create", "update", "enable", "disable", "add", "remove", "set-password", "delete");

  private final OperationMapper operations;
  private final PersonMapper people;
  private final OperationWorkers workers;
  private final Passcodes passcodes;
  private final Catalogues catalogues;
  private final Transactions transactions;

  public OperationService(
      OperationMapper operations,
      PersonMapper people,
      OperationWorkers workers,
      Passcodes passcodes,
      Catalogues catalogues,
      Transactions transactions) {
    this.passcodes = passcodes;
    this.operations = operations;
    this.people = people;
    this.workers = workers;
    this.catalogues = catalogues;
    this.transactions = transactions;
  }

  public List<OperationView> search(OperationSearch search, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    applicationExists(search.application(), reach);
    if (search.states() != null) {
      search.states().forEach(state -> oneOf("state", state, STATES));
    }
    oneOf("kind", search.kind(), KINDS);
    return operations.search(search, reach.keys());
  }

  public OperationView show(long id, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var view = operations.view(id);
    if (view == null || !reach.covers(view.application())) {
      throw noSuch(id);
    }
    return view;
  }

  private static void oneOf(String what, @Nullable String value, List<String> words) {
    if (value != null && !words.contains(value)) {
      throw Refused.badInput(
          "There is no %s “%s”; say one of %s.".formatted(what, value, String.join(", ", words)));
    }
  }

  private static Refused noSuch(long id) {
    return Refused.notThere(
        "There is no operation " + id + "; glenmoor operations list shows those there are.");
  }

  /**
   * An operation, locked for this transaction, of somebody who wants to decide on it.
   *
   * @throws Refused if they may not; as if it were not there, if they may not see it either
   */
  OperationRow locked(long id, Actor actor) {
    var row = operations.lock(id);
    if (row == null
        || !actor.may(Permission.SEE_APPLICATIONS, Scope.application(row.application()))) {
      throw noSuch(id);
    }
    Authorization.need(actor, Permission.DECIDE_OPERATIONS, Scope.application(row.application()));
    return row;
  }

  /** Refuses an application that there is not, or that is out of somebody's reach. */
  void applicationExists(@Nullable String application, Reach reach) {
    var keys =
        catalogues.current().applications().stream()
            .map(Application::key)
            .filter(reach::covers)
            .toList();
    if (application != null && !keys.contains(application)) {
      throw Refused.badInput(
          "There is no application “%s”; there are %s."
              .formatted(application, String.join(", ", keys)));
    }
  }

  /** Gives an account a new password that nobody knows yet, and tells it once. */
  public Passcodes.Issued issuePasscode(String worker, String application, Actor actor) {
    Authorization.need(actor, Permission.ISSUE_PASSCODES, Scope.application(application));
    var defined =
        catalogues.current().applications().stream()
            .filter(each -> each.key().equals(application))
            .findFirst();
    if (defined.isPresent() && !defined.get().can(Ability.PASSWORDS)) {
      throw Refused.badInput(
          "Accounts in %s have no password that Glenmoor could set.".formatted(application));
    }
    var issued =
        transactions.run(() -> {
          var person = people.byWorker(worker);
          if (person == null) {
            throw Refused.notThere("Nobody has the worker number " + worker + ".");
          }
          return passcodes
              .issue(person, application, actor.login(), "asked:" + actor.login())
              .orElseThrow(() ->
                  Refused.notThere(
                      "%s has no account in %s.".formatted(person.name(), application)));
        });
    workers.wake();
    return issued;
  }
}
