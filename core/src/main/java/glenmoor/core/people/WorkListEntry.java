package glenmoor.core.people;

import java.time.Instant;

/** The same with names, for people to read. */
public record WorkListEntry(
    String workerNumber, String personName, String place, String sentence, Instant since) {}
