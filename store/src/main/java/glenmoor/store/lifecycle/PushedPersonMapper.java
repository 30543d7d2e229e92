package glenmoor.store.lifecycle;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
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

  @Nullable PushedRow byId(@Param("source") String source, @Param("id") String id);

  @Nullable PushedRow byUserKey(@Param("source") String source, @Param("key") String key);

  @Nullable PushedRow byWorkerKey(@Param("source") String source, @Param("key") String key);

  List<PushedRow> byExternalId(@Param("source") String source, @Param("external") String external);

  /** A page of all in the order of their ids, for walking over them. */
  List<PushedRow> after(
      @Param("source") String source, @Param("after") String after, @Param("limit") int limit);

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
