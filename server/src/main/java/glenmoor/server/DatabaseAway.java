package glenmoor.server;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLTransientConnectionException;
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
class DatabaseAway extends OncePerRequestFilter {
  private static final Logger LOG = LoggerFactory.getLogger(DatabaseAway.class);

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
      LOG.warn("The database does not answer: {}", failed.getMessage());
      Problems.write(
          response,
          HttpStatus.SERVICE_UNAVAILABLE,
          "The database does not answer. Nothing was lost and nothing was done; try again when it is back.");
    }
  }

  /** Whether somewhere below it is the connection that failed. */
  static boolean isAway(Throwable failed) {
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
