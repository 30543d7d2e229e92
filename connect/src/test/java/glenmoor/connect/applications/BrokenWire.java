package glenmoor.connect.applications;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;

/**
 * Lies between a connector and the directory, and breaks the connection once: after a request of a
 * kind went through, and before its answer came back.
 */
final class BrokenWire implements AutoCloseable {
  /** The tag of an add request (RFC 4511, section 4.7). */
  static final int ADD = 0x68;

  /** The tag of a request to modify a name (RFC 4511, section 4.9). */
  static final int RENAME = 0x6C;

  private static final int NOTHING = -1;

  private final ServerSocket server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
  private final int to;
  private volatile int breaking = NOTHING;
  private volatile boolean broke;

  BrokenWire(int to) throws IOException {
    this.to = to;
    Thread.ofVirtual().start(this::accept);
  }

  int port() {
    return server.getLocalPort();
  }

  void breakAfter(int tag) {
    breaking = tag;
  }

  boolean broke() {
    return broke;
  }

  private void accept() {
    try {
      while (true) {
        var near = server.accept();
        var far = new Socket(InetAddress.getLoopbackAddress(), to);
        Thread.ofVirtual().start(() -> pass(near, far, true));
        Thread.ofVirtual().start(() -> pass(far, near, false));
      }
    } catch (IOException closed) {
      // The test is over.
    }
  }

  private void pass(Socket from, Socket into, boolean requests) {
    var bytes = new byte[65_536];
    try (from;
        into) {
      InputStream in = from.getInputStream();
      for (var read = in.read(bytes); read > 0; read = in.read(bytes)) {
        if (requests && breaking != NOTHING && operation(bytes) == breaking) {
          breaking = NOTHING;
          broke = true;
          // Its answer finds nobody any more.
          from.shutdownOutput();
          into.getOutputStream().write(bytes, 0, read);
          into.getOutputStream().flush();
          Thread.sleep(300);
          return;
        }
        into.getOutputStream().write(bytes, 0, read);
      }
    } catch (IOException over) {
      // One side has gone, so the other goes too.
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /** The tag of the operation in a message: after the sequence, its length and the message's id. */
  private static int operation(byte[] message) {
    var lengthBytes = (message[1] & 0x80) == 0 ? 0 : message[1] & 0x7F;
    var id = 2 + lengthBytes;
    return message[id + 2 + message[id + 1]] & 0xFF;
  }

  @Override
  public void close() throws IOException {
    server.close();
  }
}
