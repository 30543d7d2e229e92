package glenmoor.store.people;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code login}, {@code duty} and {@code service_token}. */
public interface LoginMapper {
  /** Somebody who can sign in. */
  record LoginRow(
      String name,
      @Nullable Long personId,
      @Nullable String workerNumber,
      String displayName,
      String passwordHash) {}

  @Nullable LoginRow byName(@Param("name") String name);

  List<LoginRow> all();

  List<String> duties(@Param("login") String login);

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

  /** Whose token this is, if it has not expired. */
  @Nullable String loginOfToken(@Param("hash") byte[] hash, @Param("now") Instant now);
}
