package glenmoor.store.agenda;

import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Hands out identities. Each replica takes a block at a time in a small transaction of its own, so
 * identities are unique everywhere, with gaps, and in no promised order.
 */
public class Ids {
  private static final int BLOCK = 1_000;
  private final AgendaMapper agenda;
  private final TransactionTemplate own;
  private long next;
  private long end;

  public Ids(AgendaMapper agenda, PlatformTransactionManager transactions) {
    this.agenda = agenda;
    own = new TransactionTemplate(transactions);
    own.setPropagationBehavior(TransactionDefinition.PROPAGATION_REQUIRES_NEW);
  }

  /** One identity. */
  public synchronized long next() {
    if (next == end) {
      next = take(BLOCK);
      end = next + BLOCK;
    }
    return next++;
  }

  /** The first of {@code count} identities in a row. */
  public long block(int count) {
    return take(Math.max(1, count));
  }

  private long take(int count) {
    Long first =
        own.execute(status -> {
          var from = agenda.lockNextId();
          agenda.setNextId(from + count);
          return from;
        });
    return first == null ? 0 : first;
  }
}
