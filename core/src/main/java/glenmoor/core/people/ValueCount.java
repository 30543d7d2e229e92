package glenmoor.core.people;

public record ValueCount(String value, Integer people) {}
