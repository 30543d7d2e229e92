package glenmoor.core.reconcile;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.conditions.Expressions.Mapping;
import java.util.Map;
import java.util.Optional;

/**
 * How one application is reconciled.
 *
 * @param at when, besides whenever somebody asks for it
 * @param responses what is done about each kind of difference; those that are not named are
 *     reported
 * @param join how an account that carries no worker number is told to be somebody's
 */
public record ReconcileRule(
    String application,
    Optional<Schedule> at,
    Map<DriftKind, Response> responses,
    Optional<Join> join) {
  /** How an application is reconciled for which no definition says it. */
  public static ReconcileRule usual(String application) {
    return new ReconcileRule(application, Optional.empty(), Map.of(), Optional.empty());
  }

  /**
   * An account is a person's where the two are the same, without regard to case.
   *
   * @param attribute of the account: one that is mapped, or {@code name}
   * @param value what it is for a person
   */
  public record Join(String attribute, Mapping value) {
    /** The attribute that stands for the account's name. */
    public static final String NAME = "name";
  }

  public Response response(DriftKind kind) {
    return responses.getOrDefault(kind, Response.REPORT);
  }
}
