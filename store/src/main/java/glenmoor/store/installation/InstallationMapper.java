package glenmoor.store.installation;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** The row of {@code installation}, and what waits while it is quiet. */
public interface InstallationMapper {
  /** What the row says. */
  record InstallationRow(String identity, @Nullable Instant quietSince, String quietReason) {}

  /** How many operations of a kind wait for an application, and since when the first of them. */
  record WaitingOperations(String application, String kind, int operations, Instant since) {}

  /** How many messages of a kind wait, and since when the first of them. */
  record WaitingMessages(String kind, int messages, Instant since) {}

  /** The row; null before the first start. */
  @Nullable InstallationRow show();

  /** Writes the row of a first start, or leaves the one there is. */
  void begin(
      @Param("identity") String identity,
      @Param("quietSince") @Nullable Instant quietSince,
      @Param("reason") String reason);

  /** Makes it quiet, unless it is already; gives 1 if it was not. */
  int quiet(@Param("reason") String reason, @Param("now") Instant now);

  /** Lets it act under an identity; gives 1 if it was quiet. */
  int release(
      @Param("identity") String identity,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /** Whether anything ever happened here. */
  boolean used();

  /** The newest entry of the record; null for none. */
  @Nullable Long newestEntry();

  boolean hasEntry(@Param("id") long id);

  List<WaitingOperations> waitingOperations();

  List<WaitingMessages> waitingMessages();
}
