package glenmoor.store.people;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/** A person as kept: facts as JSON text, dates beside them so that SQL can ask for the standing. */
public record PersonRow(
    Long id,
    String workerNumber,
    String name,
    String facts,
    String source,
    @Nullable LocalDate startsOn,
    @Nullable LocalDate endsOn,
    @Nullable LocalDate leaveFrom,
    @Nullable LocalDate leaveTo,
    @Nullable LocalDate absentSince,
    @Nullable LocalDate cutOffOn,
    @Nullable LocalDate erasedOn,
    Integer missingFeeds,
    @Nullable LocalDate missingOn,
    Integer revision) {}
