package glenmoor.store;

import com.github.f4b6a3.tsid.TsidFactory;
import jakarta.inject.Inject;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.concurrent.ThreadLocalRandom;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Hands out identities: 64 bits of which the first 42 are the milliseconds since 2020, the next ten
 * the service's number and the last twelve a counter, so that they rise with time, differ between
 * services, and need no question to the database. No order of what happened may be read from those
 * of two services: their clocks differ.
 */
@Named
public class Ids {
  private static final int NUMBER_BITS = 10;
  private static final Instant FIRST = Instant.parse("2020-01-01T00:00:00Z");
  private final TsidFactory factory;

  /** Takes the next number for this service: of two that run at once, each has its own. */
  @Inject
  public Ids(ReplicaMapper replicas, PlatformTransactionManager transactions) {
    this(takeNumber(replicas, transactions));
  }

  /**
   * @param number the service's, from 0 to 1,023
   */
  Ids(int number) {
    factory =
        TsidFactory.builder()
            .withNodeBits(NUMBER_BITS)
            .withNode(number)
            .withCustomEpoch(FIRST)
            .withRandomFunction(() -> ThreadLocalRandom.current().nextInt())
            .build();
  }

  private static int takeNumber(ReplicaMapper replicas, PlatformTransactionManager transactions) {
    var taken =
        new TransactionTemplate(transactions)
            .execute(status -> {
              replicas.raise();
              return replicas.last();
            });
    return (taken == null ? 0 : taken) & ((1 << NUMBER_BITS) - 1);
  }

  /** The next identity. */
  public long next() {
    return factory.create().toLong();
  }
}
