package glenmoor.store;

import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;
import org.apache.ibatis.executor.Executor;
import org.apache.ibatis.mapping.MappedStatement;
import org.apache.ibatis.plugin.Interceptor;
import org.apache.ibatis.plugin.Intercepts;
import org.apache.ibatis.plugin.Invocation;
import org.apache.ibatis.plugin.Signature;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Tells that this service has written something, once it is committed: whoever looks for work again
 * and again may look less often while nothing is written.
 *
 * <p>It hears of rows changed by mappers and by {@link Bulk}, but for statements that are {@link
 * Unsignalled}. What another service writes it cannot hear of, so nobody may rely on it alone.
 */
@Named
@Intercepts(
    @Signature(
        type = Executor.class,
        method = "update",
        args = {MappedStatement.class, Object.class}))
public final class WriteSignal implements Interceptor {
  private final AtomicLong count = new AtomicLong();
  private final List<Runnable> listeners = new CopyOnWriteArrayList<>();
  private final Map<String, Boolean> unsignalled = new ConcurrentHashMap<>();

  /** One for all: a transaction that writes a thousand times keeps it once. */
  private final TransactionSynchronization atCommit =
      new TransactionSynchronization() {
        @Override
        public void afterCommit() {
          tell();
        }
      };

  @Override
  public Object intercept(Invocation invocation) throws Throwable {
    var rows = invocation.proceed();
    var statement = (MappedStatement) invocation.getArgs()[0];
    if (!Integer.valueOf(0).equals(rows) && !isUnsignalled(statement.getId())) {
      written();
    }
    return rows;
  }

  /** Something was written: tells of it when the transaction that is open has committed. */
  void written() {
    if (TransactionSynchronizationManager.isSynchronizationActive()) {
      TransactionSynchronizationManager.registerSynchronization(atCommit);
    } else {
      tell();
    }
  }

  private void tell() {
    count.incrementAndGet();
    listeners.forEach(Runnable::run);
  }

  /**
   * How often something was written so far: another number than before means that there may be
   * work.
   */
  public long count() {
    return count.get();
  }

  /**
   * Has something done each time that something was written.
   *
   * @param listener must be quick and must not fail: who wrote waits for it
   */
  public void onWrite(Runnable listener) {
    listeners.add(listener);
  }

  private boolean isUnsignalled(String statement) {
    return unsignalled.computeIfAbsent(statement, WriteSignal::isMarked);
  }

  private static boolean isMarked(String statement) {
    var dot = statement.lastIndexOf('.');
    try {
      return Stream.of(Class.forName(statement.substring(0, dot)).getMethods())
          .filter(method -> method.getName().equals(statement.substring(dot + 1)))
          .anyMatch(method -> method.isAnnotationPresent(Unsignalled.class));
    } catch (ClassNotFoundException noMapper) {
      return false;
    }
  }
}
