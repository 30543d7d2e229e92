package glenmoor.server;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLTransientConnectionException;
import java.time.Duration;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.transaction.CannotCreateTransactionException;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Answers 503 with a sentence while the database is away. It stands before everything else, because
 * finding out who asks needs the database already.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
public class DatabaseAway extends OncePerRequestFilter {
  private static final Logger LOG = LoggerFactory.getLogger(DatabaseAway.class);
  private static final Duration QUIET = Duration.ofSeconds(30);

  /** MariaDB's error numbers for a server, or a transaction, that is read-only. */
  private static final Set<Integer> READ_ONLY = Set.of(1290, 1792, 1836);

  private final AtomicLong told = new AtomicLong();

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    try {
      chain.doFilter(request, response);
    } catch (ServletException | RuntimeException failed) {
      if (!isAway(failed) || response.isCommitted()) {
        throw failed;
      }
      var readOnly = isReadOnly(failed);
      tell(readOnly ? "The database takes no changes" : "The database does not answer");
      Problems.write(
          response,
          HttpStatus.SERVICE_UNAVAILABLE,
          readOnly
              ? "The database is read-only at the moment, so nothing was changed. Try again when it takes changes."
              : "The database does not answer, so whether this was done cannot be told here. Look when it is back, and try again if need be.");
    }
  }

  /** A database that is away is a line in the log now and then, not a page for each request. */
  private void tell(String sentence) {
    var now = System.nanoTime();
    var last = told.get();
    if ((last == 0 || now - last > QUIET.toNanos()) && told.compareAndSet(last, now)) {
      LOG.warn(sentence);
    }
  }

  /** Whether somewhere below it is a database that takes no changes. */
  static boolean isReadOnly(Throwable failed) {
    for (var cause = failed; cause != null; cause = cause.getCause()) {
      if (cause instanceof SQLException sql && READ_ONLY.contains(sql.getErrorCode())) {
        return true;
      }
    }
    return false;
  }

  /** Whether somewhere below it is the connection that failed. */
  public static boolean isAway(Throwable failed) {
    if (isReadOnly(failed)) {
      return true;
    }
    for (var cause = failed; cause != null; cause = cause.getCause()) {
      if (cause instanceof DataAccessResourceFailureException
          || cause instanceof CannotCreateTransactionException
          || cause instanceof SQLTransientConnectionException
          || cause instanceof SQLNonTransientConnectionException) {
        return true;
      }
    }
    return false;
  }
}
