package glenmoor.core.access;

import org.jspecify.annotations.NullMarked;

/**
 * One right in an application.
 *
 * @param key Glenmoor's key for it, unique over all applications
 * @param technicalName what the application calls it, such as a group's name
 * @param plainName what people call it
 * @param kind what it is there: {@code group} or {@code role}
 */
@NullMarked
public record Entitlement(
    String key, String application, String technicalName, String plainName, String kind) {}
