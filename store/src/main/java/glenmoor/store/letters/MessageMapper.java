package glenmoor.store.letters;

import glenmoor.core.letters.Message;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code message}: the outbox of what is told to people and programs outside. */
public interface MessageMapper {
  /**
   * A message as it is put in the outbox.
   *
   * @param sealed a passcode that takes the place kept for it while it is sent; empty for none
   * @param onceKey what makes it one message: the same key is put in once
   * @param dueAt null for what is not to be sent until it is released
   */
  record NewMessage(
      long id,
      String kind,
      String channel,
      @Nullable Long person,
      @Nullable Long recipient,
      String address,
      String template,
      String subject,
      String body,
      String html,
      String sealed,
      String cause,
      @Nullable Long run,
      String onceKey,
      @Nullable Instant dueAt,
      Instant now) {}

  /** A message that is to be sent now. */
  record Taken(
      Long id,
      String kind,
      String channel,
      String address,
      String subject,
      String body,
      String html,
      String sealed,
      Integer tries,
      @Nullable Long runId,
      Instant createdAt) {}

  /** How a message of a run stands. */
  record Standing(Long id, String state, String reason, String answer, String address) {}

  /** Puts it in; one with the same key stays as it is. */
  void insert(NewMessage message);

  /** What is due, locked; what another service sends is passed over. */
  List<Taken> due(@Param("now") Instant now, @Param("limit") int limit);

  /** Leases them by the database's own time. */
  void lease(
      @Param("ids") Collection<Long> ids,
      @Param("token") long token,
      @Param("seconds") int seconds);

  /**
   * Writes what came of sending one, under the token it was leased with.
   *
   * @return 0 where the lease had run out and somebody else took it
   */
  int settle(
      @Param("id") long id,
      @Param("token") long token,
      @Param("state") String state,
      @Param("dueAt") @Nullable Instant dueAt,
      @Param("reason") String reason,
      @Param("answer") String answer,
      @Param("now") Instant now);

  /** Those that a step of a run put in, by the beginning of their keys. */
  List<Standing> ofKey(@Param("beginning") String beginning);

  /** How many are due, counted no further than this. */
  int ready(@Param("now") Instant now, @Param("most") int most);

  /** Messages, the last one first. */
  List<Message> list(
      @Param("person") @Nullable Long person,
      @Param("state") @Nullable String state,
      @Param("kind") @Nullable String kind,
      @Param("before") long before,
      @Param("limit") int limit);

  @Nullable Message byId(@Param("id") long id);

  /** Makes one that failed due again; 0 if it had not. */
  int again(@Param("id") long id, @Param("now") Instant now);

  /** Makes what waits to be released due, by the beginning of the keys. */
  void release(@Param("beginning") String beginning, @Param("now") Instant now);

  /** Whatever was not sent yet is not sent any more, and its passcode forgotten. */
  void drop(
      @Param("beginning") String beginning,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /** The runs that wait for messages that are not sent yet. */
  List<Long> waitingRuns();

  /** Gives up all messages that are not sent yet; how many it was. */
  int dropWaiting(@Param("reason") String reason, @Param("now") Instant now);
}
