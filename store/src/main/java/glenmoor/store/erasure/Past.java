package glenmoor.store.erasure;

import glenmoor.store.time.SqlTime;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * The versions before of tables that keep them all. MariaDB changes no single version, but it lets
 * all of them go and lets them be written anew with their times; so they are copied, what says who
 * somebody was is taken out of the copy, and the copy takes their place. All of it is one
 * transaction: a question about the past finds either the old versions or the new ones.
 */
public final class Past {
  /**
   * @param set what columns become, as SQL
   * @param person the column that says whose a row is
   * @param something which versions have something to lose, as SQL
   */
  private record Versions(String table, String set, String person, String something) {}

  private static final List<Versions> ALL =
      List.of(
          new Versions(
              "person",
              """
              name = concat('Erased ', worker_number), search_name = concat('erased ', worker_key),
              facts = '{}', starts_on = null, ends_on = null, leave_from = null, leave_to = null
              """,
              "id",
              "facts != '{}'"),
          new Versions(
              "account",
              """
              base_name = '', name = '', container = '', attributes = '{}', native_id = null,
              native_key = null, seen_name = '', seen_container = '', seen_attributes = '{}'
              """,
              "person_id",
              "name != ''"),
          new Versions(
              "revocation",
              "reason = '', release_reason = ''",
              "person_id",
              "(reason != '' or release_reason != '')"),
          new Versions("access_grant", "end_reason = ''", "person_id", "end_reason != ''"));

  private final JdbcTemplate sql;

  public Past(DataSource dataSource) {
    sql = new JdbcTemplate(dataSource);
  }

  /**
   * Takes out of all versions that ended before a moment what says who these people were; inside
   * the caller's transaction. Done twice it is the same as once.
   */
  public void forget(Collection<Long> people, Instant before) {
    var ids = people.stream().map(String::valueOf).collect(Collectors.joining(","));
    for (var versions : ALL) {
      var theirs = "%s in (%s)".formatted(versions.person(), ids);
      var some =
          sql.queryForObject(
              "select exists (select 1 from %s for system_time all where %s and row_end < ? and %s)"
                  .formatted(versions.table(), theirs, versions.something()),
              Boolean.class,
              SqlTime.write(before));
      if (Boolean.TRUE.equals(some)) {
        writeAnew(versions, theirs, SqlTime.write(before));
      }
    }
  }

  private void writeAnew(Versions versions, String theirs, String before) {
    var table = versions.table();
    var columns = columns(table) + ", row_start, row_end";
    sql.execute("drop temporary table if exists past_versions");
    sql.update(
        "create temporary table past_versions as select %s from %s for system_time all where row_end < ?"
            .formatted(columns, table),
        before);
    sql.update("update past_versions set %s where %s".formatted(versions.set(), theirs));
    sql.update("delete history from %s before system_time ?".formatted(table), before);
    sql.execute("set @@session.system_versioning_insert_history = 1");
    try {
      sql.update(
          "insert into %s (%s) select %s from past_versions".formatted(table, columns, columns));
    } finally {
      sql.execute("set @@session.system_versioning_insert_history = 0");
    }
    sql.execute("drop temporary table past_versions");
  }

  /** All but those that the database computes. */
  private String columns(String table) {
    return String.join(
        ", ",
        sql.queryForList(
            """
            select column_name
            from information_schema.columns
            where table_schema = database() and table_name = ? and is_generated = 'NEVER'
            order by ordinal_position
            """,
            String.class,
            table));
  }
}
