package glenmoor.core.reconcile;

/** A right that an application has and no definition names; {@code kind} is group or role. */
public record FoundRight(String application, String kind, String technicalName, int holders) {}
