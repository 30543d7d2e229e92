package glenmoor.server;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Limits what a request may bring, before it is parsed and once it is known who asks (this filter
 * comes after those that find that out): feeds by the setting, definitions to 24 MB, and all else
 * to 64 KB. A length that is announced is refused unread; one that is not is counted while it is
 * read. One that comes too slowly is given up.
 */
@Component
class BodyLimits extends OncePerRequestFilter {
  private static final long USUAL = 64L << 10;
  private static final long DEFINITIONS = 24L << 20;

  /** How long a body may take: this, and a second for each so many bytes of its limit. */
  private static final Duration SLOWEST = Duration.ofSeconds(30);

  private static final long BYTES_A_SECOND = 256L << 10;

  /** More came than may; told apart from all that can be wrong with what came. */
  static final class TooLarge extends RuntimeException {
    private static final long serialVersionUID = 1;

    TooLarge(long limit) {
      super("This request brings more than the %,d bytes that are taken here.".formatted(limit));
    }
  }

  /** A body that comes so slowly that it only holds a connection. */
  static final class TooSlow extends RuntimeException {
    private static final long serialVersionUID = 1;

    TooSlow() {
      super("The request's body came too slowly and was given up; send it again.");
    }
  }

  private final long feeds;

  BodyLimits(ServiceSettings settings) {
    feeds = Long.parseLong(settings.get(Setting.GLENMOOR_LARGEST_FEED)) << 20;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    var limit = limit(request.getRequestURI());
    if (request.getContentLengthLong() > limit) {
      Problems.write(
          response, HttpStatus.CONTENT_TOO_LARGE, String.valueOf(new TooLarge(limit).getMessage()));
      return;
    }
    chain.doFilter(new Limited(request, limit), response);
  }

  private long limit(String path) {
    return path.equals("/api/v1/feeds")
        ? feeds
        : path.startsWith("/api/v1/definitions") ? DEFINITIONS : USUAL;
  }

  private static final class Limited extends HttpServletRequestWrapper {
    private final long limit;

    Limited(HttpServletRequest request, long limit) {
      super(request);
      this.limit = limit;
    }

    @Override
    public ServletInputStream getInputStream() throws IOException {
      return new Counted(super.getInputStream(), limit);
    }

    @Override
    public BufferedReader getReader() throws IOException {
      return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
    }
  }

  private static final class Counted extends ServletInputStream {
    private final ServletInputStream in;
    private final long limit;
    private final long until;
    private long read;

    Counted(ServletInputStream in, long limit) {
      this.in = in;
      this.limit = limit;
      until = System.nanoTime() + SLOWEST.plusSeconds(limit / BYTES_A_SECOND).toNanos();
    }

    private int counted(int bytes) {
      if (System.nanoTime() - until > 0) {
        throw new TooSlow();
      }
      read += Math.max(0, bytes);
      if (read > limit) {
        throw new TooLarge(limit);
      }
      return bytes;
    }

    @Override
    public int read() throws IOException {
      var one = in.read();
      counted(one < 0 ? 0 : 1);
      return one;
    }

    @Override
    public int read(byte[] bytes, int offset, int length) throws IOException {
      return counted(in.read(bytes, offset, length));
    }

    @Override
    public boolean isFinished() {
      return in.isFinished();
    }

    @Override
    public boolean isReady() {
      return in.isReady();
    }

    @Override
    public void setReadListener(ReadListener listener) {
      in.setReadListener(listener);
    }
  }
}
