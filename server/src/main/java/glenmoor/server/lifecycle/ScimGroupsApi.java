package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.lifecycle.PushService;
import glenmoor.engine.lifecycle.PushService.Asked;
import glenmoor.server.authorization.Needs;
import io.swagger.v3.oas.annotations.Hidden;
import jakarta.servlet.http.HttpServletRequest;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.bind.annotation.RestController;

/**
 * Groups as a source's client reads them: teams in which people of its own are, with those. Who is
 * in which is Glenmoor's to say, so nothing can be written.
 */
@Hidden
@RestController
@RequestMapping(path = "/scim/v2/Groups", produces = Scim.TYPE)
class ScimGroupsApi {
  private final PushService people;

  ScimGroupsApi(PushService people) {
    this.people = people;
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
    var found = people.groups(asked, Scim.base(request), actor);
    return Scim.list(found.items(), found.total(), asked.start());
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/{id}")
  String show(@PathVariable String id, Actor actor, HttpServletRequest request) {
    return people.group(id, Scim.wanted(request), Scim.base(request), actor);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @RequestMapping(
      path = {"", "/{id}"},
      method = {RequestMethod.POST, RequestMethod.PUT, RequestMethod.PATCH, RequestMethod.DELETE})
  String write(Actor actor) {
    throw new Refused(
        Refused.Reason.NOT_ALLOWED,
        "Groups are read here and not written: they are the teams of Glenmoor's definitions.");
  }
}
