package glenmoor.server.lifecycle;

import glenmoor.engine.lifecycle.PushService;
import jakarta.servlet.http.HttpServletRequest;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.json.JsonMapper;

/** What all parts of the SCIM door have in common. */
final class Scim {
  static final String TYPE = "application/scim+json";

  private static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final JsonMapper JSON = JsonMapper.shared();

  private Scim() {}

  /** Where the door is, as the client reached it. */
  static String base(HttpServletRequest request) {
    var url = request.getRequestURL().toString();
    return url.substring(0, url.indexOf("/scim/v2") + "/scim/v2".length());
  }

  /** What of a resource the client wants to read (RFC 7644, section 3.9). */
  static PushService.Wanted wanted(HttpServletRequest request) {
    return PushService.Wanted.of(
        request.getParameter("attributes"), request.getParameter("excludedAttributes"));
  }

  /**
   * A page of a list (RFC 7644, section 3.4.2).
   *
   * @param resources JSON of each
   * @param start the number of the first one, from 1
   */
  static String list(List<String> resources, int total, int start) {
    var list = new LinkedHashMap<String, Object>();
    list.put("schemas", List.of(LIST));
    list.put("totalResults", total);
    list.put("startIndex", start);
    list.put("itemsPerPage", resources.size());
    list.put("Resources", resources.stream().map(JSON::readTree).toList());
    return JSON.writeValueAsString(list);
  }

  /** A list that is short enough to be given as a whole. */
  static String list(List<String> resources) {
    return list(resources, resources.size(), 1);
  }

  static Map<String, Object> meta(String type, String location) {
    return Map.of("resourceType", type, "location", location);
  }
}
