package glenmoor.store.partners;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code partner_ask}, {@code newcomer} and {@code made_up_number}. */
public interface PartnerMapper {
  /**
   * What somebody asks for by a link.
   *
   * @param said as JSON
   * @param workerNumber null until they have one
   * @param requestId null until it is asked for
   */
  record AskRow(
      Long id,
      String organisation,
      String mail,
      String said,
      String terms,
      Integer termsVersion,
      Instant acceptedAt,
      byte[] keyHash,
      Instant expiresAt,
      String state,
      @Nullable String workerNumber,
      @Nullable Long requestId,
      @Nullable Instant confirmedAt) {}

  /** Somebody whose record waits. */
  record NewcomerRow(
      Long personId,
      String source,
      LocalDate starts,
      @Nullable LocalDate ends,
      Long requestId,
      String state,
      Instant since,
      @Nullable Instant settledAt) {}

  /** The last day of an organisation, as it is handed over. */
  record Until(String organisation, String until) {}

  /** Somebody who would be here for longer than their organisation. */
  record Overstaying(Long personId, LocalDate until) {}

  /**
   * Those who would be, by identity; whoever waits until they count is left until then.
   *
   * @param organisations a JSON array of {@link Until}
   */
  List<Overstaying> overstaying(
      @Param("organisations") String organisations,
      @Param("after") long after,
      @Param("limit") int limit);

  void insertAsk(AskRow row);

  /** By the hash of its key, locked until the transaction ends. */
  @Nullable AskRow lockAsk(@Param("keyHash") byte[] keyHash);

  /** The worker number that somebody of an organisation has already, by their address. */
  @Nullable String known(@Param("organisation") String organisation, @Param("mail") String mail);

  void numbered(@Param("id") long id, @Param("worker") String worker);

  void confirmed(@Param("id") long id, @Param("request") long request, @Param("now") Instant now);

  /** Asks of an organisation whose address was confirmed, the last first. */
  List<AskRow> asks(
      @Param("organisation") String organisation,
      @Param("before") long before,
      @Param("limit") int limit);

  /** How many of an organisation wait for their address to be confirmed. */
  int countUnconfirmed(@Param("organisation") String organisation, @Param("now") Instant now);

  /**
   * Forgets what was never confirmed and cannot be any more.
   *
   * @return how many
   */
  int forget(@Param("before") Instant before);

  /** Puts somebody among those who wait, again where they did before. */
  void putNewcomer(NewcomerRow row);

  List<NewcomerRow> waiting(@Param("after") long after, @Param("limit") int limit);

  @Nullable NewcomerRow newcomer(@Param("person") long person);

  void settle(
      @Param("person") long person, @Param("state") String state, @Param("now") Instant now);

  /** Begins to count numbers with a beginning, from the highest there is. */
  void beginNumbers(@Param("beginning") String beginning);

  void nextNumber(@Param("beginning") String beginning);

  long lastNumber(@Param("beginning") String beginning);
}
