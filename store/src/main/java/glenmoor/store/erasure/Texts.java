package glenmoor.store.erasure;

import java.sql.ResultSet;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * All texts that are kept, whichever table they are in, so that a table that comes later is gone
 * through as well. They come as a stream: memory grows by what is to be changed.
 */
public final class Texts {
  private static final int FETCH = 1_000;

  /** Not ours, or with definitions only, or with every version of a row kept. */
  private static final Set<String> LEFT_OUT =
      Set.of(
          "access_grant",
          "account",
          "account_name",
          "revocation",
          "definition",
          "erasure",
          "flyway_schema_history",
          "holding",
          "job_queue",
          "package_content",
          "person",
          "scheduled_tasks",
          "SPRING_SESSION",
          "SPRING_SESSION_ATTRIBUTES");

  /** A table with what identifies a row, and its texts. */
  public record Table(String name, List<String> key, List<String> texts) {
    /** Whether its rows have a number as their identity. */
    public boolean numbered() {
      return key.equals(List.of("id"));
    }
  }

  /** A text that is to be another one. */
  public record Change(String column, String was, String will) {}

  /** A row of which some texts are to be others. */
  public record Changed(List<Object> key, List<Change> changes) {}

  private final JdbcTemplate sql;

  public Texts(DataSource dataSource) {
    sql = new JdbcTemplate(dataSource);
    sql.setFetchSize(FETCH);
  }

  /** The tables with texts; columns by which rows are found or are unique stay as they are. */
  public List<Table> tables() {
    var keys = keys();
    var texts = new LinkedHashMap<String, List<String>>();
    sql.query(
        """
        select c.table_name, c.column_name
        from information_schema.columns c
          join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
        where c.table_schema = database() and t.table_type in ('BASE TABLE', 'SYSTEM VERSIONED')
          and c.data_type in ('char', 'varchar', 'tinytext', 'text', 'mediumtext', 'longtext')
          and c.is_generated = 'NEVER'
          and not exists (
            select 1
            from information_schema.statistics s
            where s.table_schema = c.table_schema and s.table_name = c.table_name
              and s.column_name = c.column_name and s.non_unique = 0)
        order by c.table_name, c.ordinal_position
        """,
        rows -> {
          texts
              .computeIfAbsent(rows.getString(1), name -> new ArrayList<>())
              .add(rows.getString(2));
        });
    return texts.entrySet().stream()
        .filter(each -> !LEFT_OUT.contains(each.getKey()))
        .map(each ->
            new Table(each.getKey(), keys.getOrDefault(each.getKey(), List.of()), each.getValue()))
        .filter(table -> !table.key().isEmpty())
        .toList();
  }

  private Map<String, List<String>> keys() {
    var keys = new LinkedHashMap<String, List<String>>();
    sql.query(
        """
        select table_name, column_name
        from information_schema.statistics
        where table_schema = database() and index_name = 'PRIMARY'
        order by table_name, seq_in_index
        """,
        rows -> {
          keys.computeIfAbsent(rows.getString(1), name -> new ArrayList<>()).add(rows.getString(2));
        });
    return keys;
  }

  /** The rows of a table in which some text is to be another one. */
  public List<Changed> changed(Table table, Function<String, Optional<String>> change) {
    var columns = new ArrayList<>(table.key());
    columns.addAll(table.texts());
    var changed = new ArrayList<Changed>();
    sql.query(
        "select %s from %s"
            .formatted(
                columns.stream().map(Texts::quoted).collect(Collectors.joining(", ")),
                quoted(table.name())),
        (ResultSet rows) -> {
          List<Change> changes = List.of();
          for (var i = 0; i < table.texts().size(); i++) {
            var text = rows.getString(table.key().size() + i + 1);
            var other =
                text == null || text.isEmpty() ? Optional.<String>empty() : change.apply(text);
            if (other.isPresent()) {
              changes = changes.isEmpty() ? new ArrayList<>() : changes;
              changes.add(new Change(table.texts().get(i), text, other.get()));
            }
          }
          if (!changes.isEmpty()) {
            var key = new ArrayList<Object>();
            for (var i = 0; i < table.key().size(); i++) {
              key.add(rows.getObject(i + 1));
            }
            changed.add(new Changed(key, changes));
          }
        });
    return changed;
  }

  /** Writes them, inside the caller's transaction; what is another text by now stays as it is. */
  public void write(Table table, List<Changed> changed) {
    for (var row : changed) {
      var values = new ArrayList<Object>();
      row.changes().forEach(each -> values.add(each.will()));
      values.addAll(row.key());
      row.changes().forEach(each -> values.add(each.was()));
      sql.update(
          "update %s set %s where %s and %s"
              .formatted(
                  quoted(table.name()),
                  joined(row.changes().stream().map(Change::column).toList(), ", "),
                  joined(table.key(), " and "),
                  joined(row.changes().stream().map(Change::column).toList(), " and ")),
          values.toArray());
    }
  }

  private static String joined(List<String> columns, String by) {
    return columns.stream().map(column -> quoted(column) + " = ?").collect(Collectors.joining(by));
  }

  private static String quoted(String name) {
    return "`" + name + "`";
  }
}
