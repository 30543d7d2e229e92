package glenmoor.core.lifecycle;

public record KindCount(String kind, Integer events) {}
