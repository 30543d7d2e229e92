package glenmoor.core.people;

/** The identity of a person inside Glenmoor; never shown, never reused. */
public record PersonId(long value) {}
