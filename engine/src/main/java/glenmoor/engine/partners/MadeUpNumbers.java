package glenmoor.engine.partners;

import glenmoor.core.lifecycle.Source;
import glenmoor.engine.lifecycle.WorkerNumbers;
import glenmoor.engine.time.Transactions;
import glenmoor.store.partners.PartnerMapper;
import jakarta.inject.Named;
import java.util.Optional;

/** Worker numbers made up here: each is given once, also where nothing came of it. */
@Named
final class MadeUpNumbers implements WorkerNumbers {
  private final PartnerMapper partners;
  private final Transactions transactions;

  MadeUpNumbers(PartnerMapper partners, Transactions transactions) {
    this.partners = partners;
    this.transactions = transactions;
  }

  @Override
  public Optional<String> next(Source source) {
    return source
        .numbers()
        .map(beginning ->
            transactions.run(() -> {
              partners.beginNumbers(beginning);
              partners.nextNumber(beginning);
              return "%s%05d".formatted(beginning, partners.lastNumber(beginning));
            }));
  }
}
