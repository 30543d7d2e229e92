package glenmoor.store.lifecycle;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.session.ResultHandler;
import org.jspecify.annotations.Nullable;

/** Rows of {@code pushed_person}: people as a source's client pushed them. */
public interface PushedPersonMapper {
  /**
   * One of them.
   *
   * @param resource JSON: the SCIM resource as it came, without what the service adds
   */
  record PushedRow(
      String id,
      String source,
      String userName,
      String userKey,
      String externalId,
      String workerKey,
      String resource,
      Integer version,
      Instant createdAt,
      Instant modifiedAt) {}

  /**
   * In what order.
   *
   * @param by id, user or modified; those that are alike in it by their identity
   */
  record Order(String by, boolean down) {}

  @Nullable PushedRow byId(@Param("source") String source, @Param("id") String id);

  @Nullable PushedRow byUserKey(@Param("source") String source, @Param("key") String key);

  @Nullable PushedRow byWorkerKey(@Param("source") String source, @Param("key") String key);

  List<PushedRow> byExternalId(@Param("source") String source, @Param("external") String external);

  /** The living ones by their identities; one that is not there is left out. */
  List<PushedRow> byIds(@Param("source") String source, @Param("ids") List<String> ids);

  /** Those whose worker numbers have these keys. */
  List<PushedRow> byWorkerKeys(
      @Param("source") String source, @Param("keys") Collection<String> keys);

  int count(@Param("source") String source);

  /**
   * A page of all.
   *
   * @param offset how many come before it
   */
  List<PushedRow> page(
      @Param("source") String source,
      @Param("order") Order order,
      @Param("offset") int offset,
      @Param("limit") int limit);

  /** All, one after the other as the database gives them. */
  void each(
      @Param("source") String source, @Param("order") Order order, ResultHandler<PushedRow> each);

  void insert(PushedRow row);

  /**
   * Writes another state of one.
   *
   * @param was the version it is to have still
   * @return 0 where somebody else changed it meanwhile
   */
  int update(@Param("row") PushedRow row, @Param("was") int was);

  /** Takes one away; 0 where somebody else changed it meanwhile. */
  int delete(
      @Param("source") String source,
      @Param("id") String id,
      @Param("was") int was,
      @Param("now") Instant now);
}
