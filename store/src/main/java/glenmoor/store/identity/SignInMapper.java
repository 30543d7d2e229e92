package glenmoor.store.identity;

import glenmoor.core.identity.IssuedToken;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code login} and {@code service_token}. */
public interface SignInMapper {
  /**
   * A sign-in, with what its person's dates say of whether they have left.
   *
   * @param epoch rises with each new password and each end; sessions of an earlier one are over
   * @param mustChange whether the password was chosen by somebody else and has to be changed
   * @param endedAt when it was taken away; null while it may be used
   */
  record SignInRow(
      String name,
      @Nullable Long personId,
      @Nullable String workerNumber,
      String displayName,
      String passwordHash,
      Integer epoch,
      Boolean mustChange,
      @Nullable Instant endedAt,
      String endReason,
      @Nullable LocalDate endsOn,
      @Nullable LocalDate absentSince,
      @Nullable LocalDate cutOffOn) {}

  @Nullable SignInRow byName(@Param("name") String name);

  List<SignInRow> all();

  List<SignInRow> ofPerson(@Param("person") long person);

  /** Those in force whose person may have left: somebody who has, has an end or is absent. */
  List<SignInRow> candidates();

  /** Ends a sign-in; 0 if it had ended already. */
  int end(@Param("name") String name, @Param("reason") String reason, @Param("now") Instant now);

  /** Makes or changes a sign-in, puts it in force, and begins a new epoch. */
  void put(
      @Param("name") String name,
      @Param("personId") @Nullable Long personId,
      @Param("displayName") String displayName,
      @Param("passwordHash") String passwordHash,
      @Param("mustChange") boolean mustChange,
      @Param("now") Instant now);

  /** Changes the password of a sign-in in force, if it is still of this epoch; else 0. */
  int changePassword(
      @Param("name") String name,
      @Param("passwordHash") String passwordHash,
      @Param("epoch") int epoch);

  void addToken(
      @Param("hash") byte[] hash,
      @Param("login") String login,
      @Param("note") String note,
      @Param("permissions") String permissions,
      @Param("now") Instant now,
      @Param("expires") Instant expires);

  /** Tokens of one sign-in, or of all where none is named; the newest first. */
  List<IssuedToken> tokens(@Param("login") @Nullable String login);

  /** Revokes all tokens of a sign-in that are in force. */
  int revokeTokens(@Param("login") String login, @Param("by") String by, @Param("now") Instant now);

  /** Revokes one token; 0 if it is not there, or not in force. */
  int revokeToken(@Param("key") String key, @Param("by") String by, @Param("now") Instant now);

  /** The token of a hash, if it has neither expired nor been revoked. */
  @Nullable IssuedToken byToken(@Param("hash") byte[] hash, @Param("now") Instant now);
}
