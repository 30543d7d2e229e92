package glenmoor.engine.definitions;

/** What is different in a definition: {@code added}, {@code changed} or {@code dropped}. */
public record Difference(String kind, String key, String change) {}
