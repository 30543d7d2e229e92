package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.lifecycle.PushService;
import glenmoor.engine.lifecycle.PushService.Asked;
import glenmoor.engine.lifecycle.PushService.Pushed;
import glenmoor.engine.lifecycle.PushService.Wanted;
import glenmoor.server.authorization.Needs;
import io.swagger.v3.oas.annotations.Hidden;
import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.util.function.Supplier;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * The door by which a source's client pushes people: SCIM 2.0 (RFC 7643, RFC 7644). Users with the
 * enterprise extension, filters, sorting, paging, PATCH and versions; a client sees its own people
 * only.
 */
@Hidden
@RestController
@RequestMapping(path = "/scim/v2/Users", produces = Scim.TYPE)
class ScimUsersApi {
  private static final Pattern VERSION = Pattern.compile("(?:W/)?\"(\\d{1,9})\"");

  private final PushService people;

  ScimUsersApi(PushService people) {
    this.people = people;
  }

  /** What is wanted is read before anything is done: a change that was made is no bad request. */
  private static ResponseEntity<String> answer(
      HttpStatus status, HttpServletRequest request, Supplier<Pushed> done) {
    var wanted = Scim.wanted(request);
    return answer(status, request, done.get(), wanted);
  }

  private static ResponseEntity<String> answer(
      HttpStatus status, HttpServletRequest request, Pushed one, Wanted wanted) {
    var location = Scim.base(request) + "/Users/" + one.id();
    return ResponseEntity.status(status)
        .location(URI.create(location))
        .eTag("W/\"" + one.version() + "\"")
        .body(one.shown(location, wanted));
  }

  /** The version a client knows; null where it does not say, or says that any will do. */
  private static @Nullable Integer version(@Nullable String header) {
    if (header == null || header.strip().equals("*")) {
      return null;
    }
    var found = VERSION.matcher(header.strip());
    // What is no version of ours is none that is there.
    return found.matches() ? Integer.parseInt(found.group(1)) : -1;
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PostMapping(consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> create(@RequestBody String body, Actor actor, HttpServletRequest request) {
    return answer(HttpStatus.CREATED, request, () -> people.create(body, actor));
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/{id}")
  ResponseEntity<String> show(
      @PathVariable String id,
      @RequestHeader(name = HttpHeaders.IF_NONE_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    var wanted = Scim.wanted(request);
    var one = people.get(id, actor);
    var version = version(known);
    return version != null && version == one.version()
        ? ResponseEntity.status(HttpStatus.NOT_MODIFIED).build()
        : answer(HttpStatus.OK, request, one, wanted);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PutMapping(path = "/{id}", consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> replace(
      @PathVariable String id,
      @RequestBody String body,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    return answer(HttpStatus.OK, request, () -> people.replace(id, body, version(known), actor));
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PatchMapping(path = "/{id}", consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> patch(
      @PathVariable String id,
      @RequestBody String body,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    return answer(HttpStatus.OK, request, () -> people.patch(id, body, version(known), actor));
  }

  @Needs(Permission.PUSH_PEOPLE)
  @DeleteMapping("/{id}")
  ResponseEntity<Void> delete(
      @PathVariable String id,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor) {
    people.delete(id, version(known), actor);
    return ResponseEntity.noContent().build();
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping
  String list(Actor actor, HttpServletRequest request) {
    return list(Asked.of(request::getParameter), actor, request);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PostMapping(path = "/.search", consumes = MediaType.ALL_VALUE)
  String search(@RequestBody String body, Actor actor, HttpServletRequest request) {
    return list(Asked.search(body), actor, request);
  }

  private String list(Asked asked, Actor actor, HttpServletRequest request) {
    var page = people.list(asked, actor);
    var users = Scim.base(request) + "/Users/";
    return Scim.list(
        page.items().stream().map(one -> one.shown(users + one.id(), asked.wanted())).toList(),
        page.total(),
        asked.start());
  }
}
