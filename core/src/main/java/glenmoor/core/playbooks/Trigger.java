package glenmoor.core.playbooks;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.lifecycle.EventKind;

/** What a playbook begins on. */
public sealed interface Trigger {
  /** An event of this kind, or the date of it that comes by itself. */
  record OnEvent(EventKind kind) implements Trigger {}

  /** Somebody plays it for people they choose. */
  record OnDemand() implements Trigger {}

  /** For everybody whom its condition holds for, each time its schedule is due. */
  record OnSchedule(Schedule at) implements Trigger {}

  /** A grant of a package begins, or ends. */
  record OnGrant(boolean begins, String rolePackage) implements Trigger {}

  /**
   * The last of what somebody was given by an ask, or directly, ends: they hold no such thing more.
   */
  record OnLastGrant() implements Trigger {}

  /** Somebody's account in an application was not used for as long as that says. */
  record OnIdle(String application) implements Trigger {}

  /** The word for it in definitions, in the record of a run and in the API. */
  default String word() {
    return switch (this) {
      case OnEvent event -> event.kind().word();
      case OnDemand demand -> "demand";
      case OnSchedule schedule -> "schedule";
      case OnGrant grant -> grant.begins() ? "grant-begins" : "grant-ends";
      case OnLastGrant last -> "last-grant-ends";
      case OnIdle idle -> "idle";
    };
  }
}
