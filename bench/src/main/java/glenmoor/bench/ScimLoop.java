package glenmoor.bench;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicInteger;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.io.entity.EntityUtils;
import org.apache.hc.core5.http.io.support.ClassicRequestBuilder;
import tools.jackson.databind.json.JsonMapper;

/**
 * The calls that an account with a role takes, and nothing besides: POST and GET for the account;
 * GET, PATCH and GET for the role.
 */
final class ScimLoop {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String TOKEN = "Bearer for the benchmark";
  private static final String TYPE = "application/scim+json";
  private static final int MOST_CONNECTIONS = 100;
  private static final String ADD_ROLE =
      "{\"schemas\":[\"urn:ietf:params:scim:api:messages:2.0:PatchOp\"],\"Operations\":[{\"op\":\"add\",\"path\":\"roles\",\"value\":[{\"value\":\"SELL\"}]}]}";

  /** Sends one request; an empty body is none. */
  interface Client extends AutoCloseable {
    String send(String method, String url, String body) throws Exception;

    @Override
    void close() throws IOException;
  }

  private ScimLoop() {}

  /** The JDK's own, which hands an answer from thread to thread. */
  static Client handingOver() {
    var http =
        HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .executor(Executors.newVirtualThreadPerTaskExecutor())
            .build();
    return new Client() {
      @Override
      public String send(String method, String url, String body) throws Exception {
        var request =
            HttpRequest.newBuilder(URI.create(url))
                .header("Authorization", TOKEN)
                .header("Content-Type", TYPE)
                .method(
                    method,
                    body.isEmpty() ? BodyPublishers.noBody() : BodyPublishers.ofString(body));
        return http.send(request.build(), BodyHandlers.ofString()).body();
      }

      @Override
      public void close() {
        http.close();
      }
    };
  }

  /** The one that the connector uses, which waits on the thread that asks. */
  static Client waiting() {
    var http =
        HttpClients.createMinimal(
            PoolingHttpClientConnectionManagerBuilder.create()
                .setMaxConnTotal(MOST_CONNECTIONS)
                .setMaxConnPerRoute(MOST_CONNECTIONS)
                .build());
    return new Client() {
      @Override
      public String send(String method, String url, String body) throws IOException {
        var request =
            ClassicRequestBuilder.create(method)
                .setUri(url)
                .addHeader("Authorization", TOKEN)
                .addHeader("Content-Type", TYPE);
        if (!body.isEmpty()) {
          request.setEntity(body);
        }
        return http.execute(
            request.build(),
            answer -> answer.getEntity() == null ? "" : EntityUtils.toString(answer.getEntity()));
      }

      @Override
      public void close() throws IOException {
        http.close();
      }
    };
  }

  /** How long it takes to make so many accounts with a role each, so many side by side. */
  static double seconds(Client client, String url, int accounts, int parallel) throws Exception {
    try (var threads = Executors.newVirtualThreadPerTaskExecutor()) {
      var room = new Semaphore(parallel);
      var done = new AtomicInteger();
      var start = System.nanoTime();
      for (var i = 0; i < accounts; i++) {
        var name = "u" + i;
        room.acquire();
        threads.submit(() -> {
          try {
            if (isMade(client, url, name)) {
              done.incrementAndGet();
            }
            return null;
          } finally {
            room.release();
          }
        });
      }
      room.acquire(parallel);
      if (done.get() != accounts) {
        throw new IllegalStateException(done.get() + " done");
      }
      return (System.nanoTime() - start) / 1e9;
    }
  }

  private static boolean isMade(Client client, String url, String name) throws Exception {
    var body =
        "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:User\"],\"externalId\":\"%s\",\"userName\":\"%s\",\"active\":true,\"displayName\":\"%s\"}"
            .formatted(name, name, name);
    var user = url + "/" + JSON.readTree(client.send("POST", url, body)).path("id").asString();
    var seen = JSON.readTree(client.send("GET", user, ""));
    client.send("GET", user + "?attributes=roles", "");
    client.send("PATCH", user, ADD_ROLE);
    var held = JSON.readTree(client.send("GET", user + "?attributes=roles", ""));
    return seen.path("userName").asString().equals(name) && held.path("roles").size() == 1;
  }
}
