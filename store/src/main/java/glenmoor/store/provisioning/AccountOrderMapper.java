package glenmoor.store.provisioning;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code account_order}: what a playbook orders of accounts beside what access gives. */
public interface AccountOrderMapper {
  /**
   * An order in force.
   *
   * @param kind disable, delete or leave
   */
  record OrderRow(Long personId, String application, String kind, Instant since) {}

  List<OrderRow> of(@Param("people") Collection<Long> people);

  /** Orders something; what is in force already stays as it is. */
  void begin(
      @Param("id") long id,
      @Param("person") long person,
      @Param("application") String application,
      @Param("kind") String kind,
      @Param("run") long run,
      @Param("now") Instant now);

  void end(
      @Param("person") long person,
      @Param("application") String application,
      @Param("kind") String kind,
      @Param("now") Instant now);

  /** Ends those of a kind of people who have any. */
  void endKind(
      @Param("people") Collection<Long> people,
      @Param("kind") String kind,
      @Param("now") Instant now);

  /** Whoever comes back begins anew. */
  void endAll(@Param("people") Collection<Long> people, @Param("now") Instant now);
}
