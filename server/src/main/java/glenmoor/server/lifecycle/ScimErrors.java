package glenmoor.server.lifecycle;

import glenmoor.engine.Refused;
import glenmoor.engine.lifecycle.PushService;
import java.util.LinkedHashMap;
import java.util.List;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import tools.jackson.databind.json.JsonMapper;

/** What the SCIM door refuses is told in SCIM's own words (RFC 7644, section 3.12). */
@Order(Ordered.HIGHEST_PRECEDENCE)
@RestControllerAdvice(
    assignableTypes = {ScimUsersApi.class, ScimGroupsApi.class, ScimDiscoveryApi.class})
class ScimErrors {
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";
  private static final JsonMapper JSON = JsonMapper.shared();

  private static ResponseEntity<String> error(HttpStatus status, String type, String detail) {
    var error = new LinkedHashMap<String, Object>();
    error.put("schemas", List.of(ERROR));
    error.put("status", String.valueOf(status.value()));
    if (!type.isEmpty()) {
      error.put("scimType", type);
    }
    error.put("detail", detail);
    return ResponseEntity.status(status)
        .contentType(MediaType.parseMediaType(Scim.TYPE))
        .body(JSON.writeValueAsString(error));
  }

  @ExceptionHandler
  ResponseEntity<String> unusable(PushService.Unusable unusable) {
    return error(HttpStatus.BAD_REQUEST, unusable.type(), String.valueOf(unusable.getMessage()));
  }

  @ExceptionHandler
  ResponseEntity<String> stale(PushService.Stale stale) {
    return error(
        HttpStatus.PRECONDITION_FAILED,
        "",
        "It was changed meanwhile: read it again, and send what should be.");
  }

  @ExceptionHandler
  ResponseEntity<String> taken(PushService.Taken taken) {
    return error(HttpStatus.CONFLICT, "uniqueness", String.valueOf(taken.getMessage()));
  }

  @ExceptionHandler
  ResponseEntity<String> refused(Refused refused) {
    return switch (refused.reason()) {
      case NOT_ALLOWED -> error(HttpStatus.FORBIDDEN, "", String.valueOf(refused.getMessage()));
      case NOT_THERE -> error(HttpStatus.NOT_FOUND, "", String.valueOf(refused.getMessage()));
      case BAD_INPUT ->
          error(HttpStatus.BAD_REQUEST, "invalidValue", String.valueOf(refused.getMessage()));
      case NOT_NOW -> error(HttpStatus.CONFLICT, "", String.valueOf(refused.getMessage()));
      case TOO_MANY ->
          error(HttpStatus.SERVICE_UNAVAILABLE, "", String.valueOf(refused.getMessage()));
    };
  }

  @ExceptionHandler
  ResponseEntity<String> noBody(HttpMessageNotReadableException missing) {
    return error(HttpStatus.BAD_REQUEST, "invalidSyntax", "The body is missing.");
  }
}
