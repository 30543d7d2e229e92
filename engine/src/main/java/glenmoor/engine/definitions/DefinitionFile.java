package glenmoor.engine.definitions;

/** A file of definitions as it was sent. */
public record DefinitionFile(String name, String text) {}
