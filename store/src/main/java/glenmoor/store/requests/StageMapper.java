package glenmoor.store.requests;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Stages of routes, and whoever is asked at them: of lines of requests, and of questions. */
public interface StageMapper {
  /** What goes by a route; each has tables of its own. */
  enum Of {
    REQUEST("request"),
    QUESTION("question");

    private final String table;

    Of(String table) {
      this.table = table;
    }

    /** What its tables begin with. */
    public String getTable() {
      return table;
    }
  }

  /** One stage of a line of a request, or of a question. */
  record StageRow(
      Long lineId,
      Integer number,
      String said,
      String state,
      @Nullable Instant openedAt,
      @Nullable Instant since,
      Long stoodSeconds,
      Integer nudged,
      Boolean standbyJoined,
      Boolean wentOn,
      @Nullable Long heldBy,
      @Nullable Instant heldAt,
      @Nullable Instant heldUntil,
      @Nullable Instant settledAt,
      @Nullable Long settledBy,
      String settledLogin,
      String reason) {}

  /** Somebody who is, or was, asked at a stage. */
  record ApproverRow(
      Long lineId,
      Integer stage,
      Long namedId,
      Long personId,
      String cameAs,
      Boolean agreed,
      Boolean waits) {}

  List<StageRow> stages(@Param("of") Of of, @Param("lines") Collection<Long> lines);

  /** Writes stages anew, whether they were there or not. */
  void putStages(@Param("of") Of of, @Param("stages") Collection<StageRow> stages);

  List<ApproverRow> approvers(@Param("of") Of of, @Param("lines") Collection<Long> lines);

  void dropApprovers(@Param("of") Of of, @Param("line") long line);

  void insertApprovers(@Param("of") Of of, @Param("approvers") Collection<ApproverRow> approvers);

  /** Whether it waits for somebody. */
  boolean asks(@Param("of") Of of, @Param("line") long line, @Param("person") long person);

  /** Whether it waits for anybody at all. */
  boolean asksAnybody(@Param("of") Of of, @Param("line") long line);
}
