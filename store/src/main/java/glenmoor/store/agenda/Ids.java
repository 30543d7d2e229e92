package glenmoor.store.agenda;

import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Hands out identities. Each replica takes a block at a time in a small transaction of its own, a
 * larger one each time, so identities are unique everywhere, with gaps, and in no promised order.
 */
public class Ids {
  private static final int SMALLEST_BLOCK = 50;
  private static final int LARGEST_BLOCK = 50_000;
  private final AgendaMapper agenda;
  private final TransactionTemplate own;
  private int block = SMALLEST_BLOCK;
  private long next;
  private long end;

  public Ids(AgendaMapper agenda, PlatformTransactionManager transactions) {
    this.agenda = agenda;
    own = new TransactionTemplate(transactions);
    own.setPropagationBehavior(TransactionDefinition.PROPAGATION_REQUIRES_NEW);
  }

  /** The next identity. */
  public synchronized long next() {
    if (next == end) {
      next = take(block);
      end = next + block;
      block = Math.min(block * 2, LARGEST_BLOCK);
    }
    return next++;
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
