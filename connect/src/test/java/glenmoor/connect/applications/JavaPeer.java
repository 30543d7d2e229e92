package glenmoor.connect.applications;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import de.captaingoldfish.scim.sdk.common.constants.enums.HttpMethod;
import de.captaingoldfish.scim.sdk.common.constants.enums.SortOrder;
import de.captaingoldfish.scim.sdk.common.exceptions.ConflictException;
import de.captaingoldfish.scim.sdk.common.exceptions.ResourceNotFoundException;
import de.captaingoldfish.scim.sdk.common.resources.Group;
import de.captaingoldfish.scim.sdk.common.resources.ResourceNode;
import de.captaingoldfish.scim.sdk.common.resources.ServiceProvider;
import de.captaingoldfish.scim.sdk.common.resources.User;
import de.captaingoldfish.scim.sdk.common.resources.complex.FilterConfig;
import de.captaingoldfish.scim.sdk.common.resources.complex.Meta;
import de.captaingoldfish.scim.sdk.common.resources.complex.PatchConfig;
import de.captaingoldfish.scim.sdk.common.schemas.SchemaAttribute;
import de.captaingoldfish.scim.sdk.server.endpoints.Context;
import de.captaingoldfish.scim.sdk.server.endpoints.ResourceEndpoint;
import de.captaingoldfish.scim.sdk.server.endpoints.ResourceHandler;
import de.captaingoldfish.scim.sdk.server.endpoints.base.GroupEndpointDefinition;
import de.captaingoldfish.scim.sdk.server.endpoints.base.UserEndpointDefinition;
import de.captaingoldfish.scim.sdk.server.filter.FilterNode;
import de.captaingoldfish.scim.sdk.server.response.PartialListResponse;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;

/** A SCIM 2.0 server that others wrote, behind the JDK's HTTP server, with resources in memory. */
final class JavaPeer implements AutoCloseable {
  private final HttpServer server;
  private final ResourceEndpoint endpoint;

  JavaPeer() throws IOException {
    endpoint =
        new ResourceEndpoint(
            ServiceProvider.builder()
                .filterConfig(FilterConfig.builder().supported(true).maxResults(500).build())
                .patchConfig(PatchConfig.builder().supported(true).build())
                .build());
    var users = endpoint.registerEndpoint(new UserEndpointDefinition(new Users()));
    var groupsHandler = new Groups();
    var groups = endpoint.registerEndpoint(new GroupEndpointDefinition(groupsHandler));
    users.getFeatures().setAutoFiltering(true);
    groups.getFeatures().setAutoFiltering(true);
    var charts = Group.builder().displayName("Charts").build();
    charts.setMeta(Meta.builder().resourceType("Group").build());
    groupsHandler.createResource(charts, null);
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
    server.createContext("/scim/v2/", this::answer);
    server.start();
  }

  String url() {
    return "http://127.0.0.1:" + server.getAddress().getPort() + "/scim/v2";
  }

  private void answer(HttpExchange exchange) throws IOException {
    try (exchange) {
      var headers = new HashMap<String, String>();
      exchange.getRequestHeaders().forEach((name, values) -> headers.put(name, values.getFirst()));
      var body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
      var answer =
          endpoint.handleRequest(
              url().replace("/scim/v2", "") + exchange.getRequestURI(),
              HttpMethod.valueOf(exchange.getRequestMethod()),
              body,
              headers,
              new Context(null));
      answer
          .getHttpHeaders()
          .forEach((name, value) -> exchange.getResponseHeaders().set(name, value));
      var bytes =
          answer.isEmpty() ? new byte[0] : answer.toString().getBytes(StandardCharsets.UTF_8);
      exchange.sendResponseHeaders(answer.getHttpStatus(), bytes.length == 0 ? -1 : bytes.length);
      exchange.getResponseBody().write(bytes);
    }
  }

  @Override
  public void close() {
    server.stop(0);
  }

  private static final class Users extends Kept<User> {
    @Override
    void check(User user, Map<String, User> kept) {
      if (kept.values().stream()
          .anyMatch(each ->
              !each.getId().equals(user.getId())
                  && each.getUserName().equals(user.getUserName()))) {
        throw new ConflictException("The userName is taken");
      }
    }
  }

  private static final class Groups extends Kept<Group> {
    @Override
    void check(Group group, Map<String, Group> kept) {}
  }

  /** Resources of one type in memory. */
  private abstract static class Kept<T extends ResourceNode> extends ResourceHandler<T> {
    private final Map<String, T> kept = new LinkedHashMap<>();

    abstract void check(T resource, Map<String, T> kept);

    @Override
    public T createResource(T resource, Context context) {
      check(resource, kept);
      resource.setId(UUID.randomUUID().toString());
      kept.put(resource.getId().orElseThrow(), resource);
      return resource;
    }

    @Override
    public T getResource(
        String id, List<SchemaAttribute> some, List<SchemaAttribute> without, Context context) {
      return kept.get(id);
    }

    @Override
    public PartialListResponse<T> listResources(
        long start,
        int count,
        FilterNode filter,
        SchemaAttribute sortBy,
        SortOrder order,
        List<SchemaAttribute> some,
        List<SchemaAttribute> without,
        Context context) {
      return PartialListResponse.<T>builder()
          .resources(new ArrayList<>(kept.values()))
          .totalResults(kept.size())
          .build();
    }

    @Override
    public T updateResource(T resource, Context context) {
      check(resource, kept);
      kept.put(resource.getId().orElseThrow(), resource);
      return resource;
    }

    @Override
    public void deleteResource(String id, Context context) {
      if (kept.remove(id) == null) {
        throw new ResourceNotFoundException("There is no resource " + id);
      }
    }
  }
}
