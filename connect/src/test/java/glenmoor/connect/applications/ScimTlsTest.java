package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import glenmoor.connect.applications.ScimHttp.Failed;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Whom a token is given to: only one that proves by its certificate who it is. */
class ScimTlsTest {
  private static final String PASSWORD = "for the test";

  @TempDir private Path directory;

  private SSLContext usual;
  private HttpsServer server;

  @BeforeEach
  void remember() throws GeneralSecurityException {
    usual = SSLContext.getDefault();
  }

  @AfterEach
  void stop() {
    SSLContext.setDefault(usual);
    if (server != null) {
      server.stop(0);
    }
  }

  /** A server at 127.0.0.1 with a certificate for this; gives a context that trusts it. */
  private SSLContext serve(String subject) throws Exception {
    var file = directory.resolve("keys.p12");
    var made =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-keyalg",
                "EC",
                "-alias",
                "skerry",
                "-dname",
                "CN=skerry",
                "-ext",
                "san=" + subject,
                "-keystore",
                file.toString(),
                "-storepass",
                PASSWORD)
            .inheritIO()
            .start();
    assertThat(made.waitFor()).isZero();
    var keys = KeyStore.getInstance("PKCS12");
    try (var in = Files.newInputStream(file)) {
      keys.load(in, PASSWORD.toCharArray());
    }
    var own = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    own.init(keys, PASSWORD.toCharArray());
    var shown = SSLContext.getInstance("TLS");
    shown.init(own.getKeyManagers(), null, null);
    server = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setHttpsConfigurator(new HttpsConfigurator(shown));
    server.createContext(
        "/",
        exchange -> {
          var body =
              "{\"schemas\":[\"%s\"]}".formatted(ScimHttp.USER).getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().add("Content-Type", "application/scim+json");
          exchange.sendResponseHeaders(200, body.length);
          try (var out = exchange.getResponseBody()) {
            out.write(body);
          }
        });
    server.start();
    var trusted = KeyStore.getInstance("PKCS12");
    trusted.load(null, null);
    trusted.setCertificateEntry("skerry", keys.getCertificate("skerry"));
    var trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    trust.init(trusted);
    var trusting = SSLContext.getInstance("TLS");
    trusting.init(null, trust.getTrustManagers(), null);
    return trusting;
  }

  private void get() throws Failed, IOException {
    var http = new ScimHttp("https://127.0.0.1:" + server.getAddress().getPort(), "a token");
    try {
      http.get("/Users/1", ScimHttp.USER);
    } finally {
      http.close();
    }
  }

  @Test
  void one_that_is_trusted_for_its_name_is_asked() throws Exception {
    SSLContext.setDefault(serve("ip:127.0.0.1"));
    get();
  }

  @Test
  void one_that_shows_the_certificate_of_another_gets_no_token() throws Exception {
    SSLContext.setDefault(serve("dns:chartshare.skerry.example"));
    assertThatThrownBy(this::get).hasMessageContaining("is for another name");
  }

  @Test
  void one_that_nobody_here_trusts_gets_no_token() throws Exception {
    serve("ip:127.0.0.1");
    assertThatThrownBy(this::get).hasMessageContaining("is not trusted here");
  }
}
