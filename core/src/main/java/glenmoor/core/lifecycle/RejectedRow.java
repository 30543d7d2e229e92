package glenmoor.core.lifecycle;

public record RejectedRow(
    Integer number,
    Integer line,
    String worker,
    String columnName,
    String found,
    String expected) {}
