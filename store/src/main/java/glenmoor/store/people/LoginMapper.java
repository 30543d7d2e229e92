package glenmoor.store.people;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code login}, {@code duty} and {@code service_token}. */
public interface LoginMapper {
  /**
   * A sign-in, with the dates of its person.
   *
   * @param epoch rises with each new password and each end; sessions of an earlier one are over
   * @param endedAt when it was taken away; null while it may be used
   */
  record LoginRow(
      String name,
      @Nullable Long personId,
      @Nullable String workerNumber,
      String displayName,
      String passwordHash,
      Integer epoch,
      @Nullable Instant endedAt,
      String endReason,
      @Nullable LocalDate endsOn,
      @Nullable LocalDate absentSince) {}

  /** A token, without what would let somebody use it; {@code key} is the beginning of its hash. */
  record TokenRow(
      String key,
      String login,
      String note,
      Instant createdAt,
      Instant expiresAt,
      @Nullable Instant revokedAt,
      String revokedBy) {}

  @Nullable LoginRow byName(@Param("name") String name);

  List<LoginRow> all();

  List<String> duties(@Param("login") String login);

  /** The names of sign-ins in force whose person's dates say that they have left by a day. */
  List<String> ofLeavers(@Param("today") LocalDate today);

  /** How many sign-ins in force have a duty, beside one. */
  int othersWithDuty(@Param("duty") String duty, @Param("login") String login);

  /** Ends a sign-in; 0 if it had ended already. */
  int end(@Param("name") String name, @Param("reason") String reason, @Param("now") Instant now);

  /** Makes or changes a sign-in, puts it in force, and begins a new epoch. */
  void put(
      @Param("name") String name,
      @Param("personId") @Nullable Long personId,
      @Param("displayName") String displayName,
      @Param("passwordHash") String passwordHash,
      @Param("now") Instant now);

  void dropDuties(@Param("login") String login);

  void addDuty(@Param("login") String login, @Param("duty") String duty);

  void addToken(
      @Param("hash") byte[] hash,
      @Param("login") String login,
      @Param("note") String note,
      @Param("now") Instant now,
      @Param("expires") Instant expires);

  /** Tokens of one sign-in, or of all where none is named; the newest first. */
  List<TokenRow> tokens(@Param("login") @Nullable String login);

  /** Revokes all tokens of a sign-in that are in force. */
  int revokeTokens(@Param("login") String login, @Param("by") String by, @Param("now") Instant now);

  /** Revokes one token; 0 if it is not there, or not in force. */
  int revokeToken(@Param("key") String key, @Param("by") String by, @Param("now") Instant now);

  /** Whose token this is, if it has neither expired nor been revoked. */
  @Nullable String loginOfToken(@Param("hash") byte[] hash, @Param("now") Instant now);
}
