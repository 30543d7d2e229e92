package glenmoor.core.playbooks;

import glenmoor.core.conditions.Expressions.Condition;
import java.util.List;
import java.util.Optional;

/**
 * Steps to carry out when something happens to a person who meets a condition.
 *
 * @param where for whom; nothing for everybody
 * @param lateDays what happened longer ago than this, when it becomes known, begins no run
 */
public record Playbook(
    String key,
    String name,
    Trigger on,
    Optional<Condition> where,
    int lateDays,
    List<Step> steps) {}
