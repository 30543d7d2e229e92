package glenmoor.store.reconcile;

import glenmoor.core.applications.AccountState;
import glenmoor.core.reconcile.Expectations.Expected;
import jakarta.inject.Named;
import java.util.function.Consumer;
import javax.sql.DataSource;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * Reads what an application should have, all of it, one row after the other.
 *
 * <p>By the numbers of the columns and without a mapper: these are the most rows that anything
 * reads at once, and to have each mapped took longer than the database took for it.
 */
@Named
public final class ExpectedRows {
  private static final int AHEAD = 5_000;
  private static final String ACCOUNTS =
      """
      select a.id, a.native_id, p.worker_number, a.name, a.container, a.attributes, a.state, a.seen_state != 'none'
      from account a force index (account_application)
        straight_join person p on p.id = a.person_id
      where a.application = ?
      order by a.id
      """;

  /** An entitlement's key begins with its application's, and a 0 follows upon a slash. */
  private static final String RIGHTS =
      """
      select h.account_id, h.entitlement
      from holding h force index (holding_entitlement)
      where h.entitlement >= concat(?, '/')
        and h.entitlement < concat(?, '0')
        and h.desired
      """;

  private final JdbcTemplate rows;

  public ExpectedRows(DataSource source) {
    rows = new JdbcTemplate(source);
    rows.setFetchSize(AHEAD);
  }

  /** Gives all accounts of the application, by identity. */
  public void accounts(String application, Consumer<Expected> each) {
    rows.query(
        ACCOUNTS,
        row -> {
          each.accept(
              new Expected(
                  row.getLong(1),
                  row.getString(2),
                  row.getString(3),
                  row.getString(4),
                  row.getString(5),
                  row.getString(6),
                  AccountState.ofWord(row.getString(7)),
                  row.getBoolean(8)));
        },
        application);
  }

  /** Gets that an account should hold a right. */
  public interface Right {
    void expected(long account, String entitlement);
  }

  /** Gives all rights that its accounts should hold. */
  public void rights(String application, Right each) {
    rows.query(
        RIGHTS,
        row -> {
          each.expected(row.getLong(1), row.getString(2));
        },
        application,
        application);
  }
}
