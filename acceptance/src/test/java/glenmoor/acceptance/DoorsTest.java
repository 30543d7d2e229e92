package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The REST door: who gets in, what is refused and how it is said. */
@AnyDay
@Order(7)
class DoorsTest {
  private static HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(Demo.running().url() + path))
        .header("Content-Type", "application/json");
  }

  /** A call as somebody, by a token of theirs. */
  static HttpRequest.Builder as(String login, String path) {
    var body =
        JsonMapper.shared()
            .writeValueAsString(Map.of("login", login, "password", Demo.running().password(login)));
    var token = json(Demo.http(request("/api/v1/tokens").POST(BodyPublishers.ofString(body))));
    return request(path).header("Authorization", "Bearer " + token.path("token").asString());
  }

  private static JsonNode json(HttpResponse<String> response) {
    return JsonMapper.shared().readTree(response.body());
  }

  private static void refused(HttpResponse<String> response, int status, String sentence) {
    assertThat(response.statusCode()).as(response.body()).isEqualTo(status);
    assertThat(response.headers().firstValue("Content-Type").orElse(""))
        .startsWith("application/problem+json");
    assertThat(json(response).path("detail").asString()).contains(sentence);
  }

  @Test
  void nobody_gets_in_without_signing_in() {
    refused(Demo.http(request("/api/v1/people")), 401, "Sign in first");
    refused(
        Demo.http(request("/api/v1/people").header("Authorization", "Bearer glm_nonsense")),
        401,
        "unknown or has expired");
  }

  @Test
  void a_change_with_a_session_alone_is_refused_as_forged() {
    refused(
        Demo.http(
            request("/api/v1/session")
                .POST(BodyPublishers.ofString("{\"login\":\"isa\",\"password\":\"x\"}"))),
        403,
        "no proof");
  }

  @Test
  void an_auditor_sees_all_and_changes_nothing() {
    assertThat(Demo.http(as("siobhan", "/api/v1/ledger")).statusCode()).isEqualTo(200);
    refused(
        Demo.http(as("siobhan", "/api/v1/operations/retry").POST(BodyPublishers.noBody())),
        403,
        "needs the duty administrator");
  }

  @Test
  void the_people_desk_loads_feeds_and_sees_no_ledger() {
    assertThat(Demo.http(as("anneli", "/api/v1/feeds")).statusCode()).isEqualTo(200);
    refused(Demo.http(as("anneli", "/api/v1/ledger")), 403, "administrator or auditor");
  }

  @Test
  void a_plain_person_sees_themselves_and_not_the_feeds() {
    assertThat(Demo.http(as("tam", "/api/v1/people/W-01012")).statusCode()).isEqualTo(200);
    assertThat(json(Demo.http(as("tam", "/api/v1/people?count=true"))).path("total").asInt())
        .isEqualTo(1);
    refused(Demo.http(as("tam", "/api/v1/people/W-01007")), 404, "whom you may see");
    refused(Demo.http(as("tam", "/api/v1/feeds")), 403, "needs the duty");
  }

  private static int signInAttempt(String login, String password) {
    var body = JsonMapper.shared().writeValueAsString(Map.of("login", login, "password", password));
    return Demo.http(request("/api/v1/tokens").POST(BodyPublishers.ofString(body))).statusCode();
  }

  private static HttpResponse<String> with(Path token, String path) throws IOException {
    return Demo.http(
        request(path).header("Authorization", "Bearer " + Files.readString(token).strip()));
  }

  @Test
  void a_leaver_loses_glenmoor_first_of_all() throws Exception {
    var password = Files.writeString(Files.createTempFile("password", ""), "harbour lights");
    var token = Files.createTempFile("token", "");
    var worker = "W-01235";
    Demo.glenmoor(
        "sign-ins",
        "set",
        "fen",
        "--worker",
        worker,
        "--password-stays",
        "--password-file",
        password + "");
    Demo.glenmoor("sign-ins", "token", "fen", token + "", "--password-file", password + "");
    assertThat(with(token, "/api/v1/people/" + worker).statusCode()).isEqualTo(200);
    var left =
        Files.readString(Path.of(Demo.feed("2027-05")))
            .lines()
            .filter(row -> !row.startsWith(worker))
            .toList();
    Demo.glenmoor(
        "feeds", "load", Files.write(Files.createTempFile("left", ".csv"), left).toString());
    refused(with(token, "/api/v1/people/" + worker), 401, "unknown or has expired");
    assertThat(signInAttempt("fen", "harbour lights")).isEqualTo(403);
    assertThat(Demo.glenmoor("sign-ins", "list")).contains("ended: left");
    Demo.glenmoor("feeds", "load", Demo.feed("2027-05"));
    refused(with(token, "/api/v1/people/" + worker), 401, "unknown or has expired");
    Demo.allConfirmed();
  }

  @Test
  void another_password_and_taking_away_end_what_was_open() throws Exception {
    var first = Files.writeString(Files.createTempFile("password", ""), "harbour lights");
    var second = Files.writeString(Files.createTempFile("password", ""), "skerry lights");
    var token = Files.createTempFile("token", "");
    Demo.glenmoor(
        "sign-ins",
        "set",
        "temp",
        "--name",
        "Temp",
        "--password-stays",
        "--password-file",
        first + "");
    Demo.glenmoor("sign-ins", "token", "temp", token + "", "--password-file", first + "");
    assertThat(with(token, "/api/v1/people").statusCode()).isEqualTo(200);
    Demo.glenmoor(
        "sign-ins",
        "set",
        "temp",
        "--name",
        "Temp",
        "--password-stays",
        "--password-file",
        second + "");
    assertThat(with(token, "/api/v1/people").statusCode()).isEqualTo(401);
    assertThat(signInAttempt("temp", "harbour lights")).isEqualTo(403);
    assertThat(signInAttempt("temp", "skerry lights")).isEqualTo(200);
    Demo.glenmoor("sign-ins", "take-away", "temp", "--reason", "the summer is over");
    assertThat(signInAttempt("temp", "skerry lights")).isEqualTo(403);
  }

  @Test
  void a_body_is_refused_before_it_is_parsed_and_by_who_asks_first() {
    var large = "{\"login\":\"" + "x".repeat(100_000) + "\"}";
    refused(
        Demo.http(request("/api/v1/tokens").POST(BodyPublishers.ofString(large))),
        413,
        "more than the 65,536 bytes");
    var unannounced =
        BodyPublishers.ofInputStream(
            () -> new ByteArrayInputStream(large.getBytes(StandardCharsets.UTF_8)));
    refused(
        Demo.http(request("/api/v1/tokens").POST(unannounced)), 413, "more than the 65,536 bytes");
    refused(
        Demo.http(
            request("/api/v1/people")
                .header("Authorization", "Bearer glm_nonsense")
                .POST(BodyPublishers.ofString(large))),
        401,
        "unknown or has expired");
  }

  @Test
  void many_who_sign_in_wrongly_keep_nobody_else_waiting() throws Exception {
    var isa = as("isa", "/api/v1/people?limit=50").build();
    var flood = new ArrayList<Thread>();
    var answers = new ConcurrentLinkedQueue<Integer>();
    for (var client = 0; client < 40; client++) {
      var name = "stranger-" + client;
      flood.add(
          Thread.ofVirtual()
              .start(() -> {
                for (var i = 0; i < 5; i++) {
                  answers.add(signInAttempt(name, "not the password"));
                }
              }));
    }
    var during = 0;
    while (answers.size() < 200 && during < 20) {
      assertThat(Demo.http(HttpRequest.newBuilder(isa, (name, value) -> true)).statusCode())
          .isEqualTo(200);
      during++;
    }
    for (var each : flood) {
      each.join();
    }
    assertThat(during).as("lists answered while the flood went on").isGreaterThan(5);
    assertThat(answers).hasSize(200).allMatch(status -> status == 403 || status == 429);
    assertThat(Demo.http(as("isa", "/api/v1/today")).statusCode())
        .as("who knows their password comes in all the same")
        .isEqualTo(200);
  }

  @Test
  void who_tries_one_name_again_and_again_has_to_wait() {
    var answers = new ArrayList<Integer>();
    for (var i = 0; i < 12; i++) {
      answers.add(signInAttempt("rhona-not", "not the password"));
    }
    assertThat(answers).startsWith(403, 403).endsWith(429, 429);
  }

  @Test
  void a_body_that_cannot_be_read_is_told_where_and_only_to_who_may_ask() {
    for (var body : List.of("{}", "{\"login\":7}", "{\"login\":null}", "[]", "no")) {
      var response = Demo.http(as("isa", "/api/v1/duties").POST(BodyPublishers.ofString(body)));
      assertThat(response.statusCode()).as(body + response.body()).isIn(400, 422);
      refused(
          Demo.http(as("tam", "/api/v1/duties").POST(BodyPublishers.ofString(body))),
          403,
          "needs the duty administrator");
    }
    var missing = Demo.http(as("isa", "/api/v1/duties").POST(BodyPublishers.ofString("{}")));
    assertThat(
            json(missing).path("errors").valueStream().map(each -> each.path("pointer").asString()))
        .contains("/duty", "/login");
    refused(Demo.http(as("isa", "/api/v1/operations/none")), 422, "id is “none”");
  }

  @Test
  void a_page_may_load_nothing_from_elsewhere() {
    var page = Demo.http(request("/people"));
    assertThat(page.statusCode()).isEqualTo(200);
    assertThat(page.headers().firstValue("Content-Security-Policy").orElse(""))
        .contains("default-src 'self'", "frame-ancestors 'none'");
    assertThat(page.headers().firstValue("Referrer-Policy")).contains("same-origin");
  }

  @Test
  void whoever_asks_without_a_session_leaves_none_and_a_session_is_kept_as_a_hash() {
    var before = sessions();
    Demo.http(request("/api/v1/people"));
    Demo.http(request("/api/v1/session"));
    Demo.http(request("/"));
    assertThat(sessions()).isEqualTo(before);
    var cookie = signedIn("angus");
    assertThat(sessions()).isEqualTo(before + 1);
    assertThat(
            Demo.running()
                .sql(
                    "select count(*) from SPRING_SESSION where SESSION_ID = '%s'"
                        .formatted(cookie)))
        .isEqualTo("0");
    assertThat(
            Demo.http(request("/api/v1/people").header("Cookie", "glenmoor=" + cookie))
                .statusCode())
        .isEqualTo(200);
  }

  private static int sessions() {
    return Integer.parseInt(Demo.running().sql("select count(*) from SPRING_SESSION"));
  }

  /** Signs in as the console does; gives what the browser would bring from then on. */
  private static String signedIn(String login) {
    var proof = cookie(Demo.http(request("/api/v1/session")), "XSRF-TOKEN");
    var body =
        JsonMapper.shared()
            .writeValueAsString(Map.of("login", login, "password", Demo.running().password(login)));
    var answer =
        Demo.http(
            request("/api/v1/session")
                .header("Cookie", "XSRF-TOKEN=" + proof)
                .header("X-XSRF-TOKEN", proof)
                .POST(BodyPublishers.ofString(body)));
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
    assertThat(cookie(answer, "XSRF-TOKEN")).as("renewed at sign-in").isNotEqualTo(proof);
    return cookie(answer, "glenmoor");
  }

  private static String cookie(HttpResponse<String> answer, String name) {
    return answer.headers().allValues("Set-Cookie").stream()
        .filter(each -> each.startsWith(name + "="))
        .map(each -> each.substring(name.length() + 1).split(";")[0])
        .filter(each -> !each.isEmpty())
        .findFirst()
        .orElse("");
  }

  @Test
  void a_first_password_opens_nothing_until_it_is_changed() throws Exception {
    var first = Files.writeString(Files.createTempFile("password", ""), "harbour lights");
    var own = Files.writeString(Files.createTempFile("password", ""), "skerry lights");
    var token = Files.createTempFile("token", "");
    Demo.glenmoor("sign-ins", "set", "newcomer", "--name", "New", "--password-file", first + "");
    assertThat(
            Demo.refused(
                "sign-ins", "token", "newcomer", token + "", "--password-file", first + ""))
        .contains("change it first");
    assertThat(Demo.glenmoor("sign-ins", "list")).contains("must change password");
    Demo.glenmoor(
        "sign-ins",
        "password",
        "newcomer",
        "--password-file",
        first + "",
        "--new-password-file",
        own + "");
    Demo.glenmoor("sign-ins", "token", "newcomer", token + "", "--password-file", own + "");
    assertThat(with(token, "/api/v1/people").statusCode()).isEqualTo(200);
  }

  @Test
  void sign_ins_of_a_file_are_made_but_for_those_that_are_refused() throws Exception {
    var directory = Files.createTempDirectory("sign-ins");
    for (var login : List.of("bosun", "nobody", "purser")) {
      Files.writeString(directory.resolve(login), "harbour lights of " + login);
    }
    var file =
        Files.writeString(
            directory.resolve("sign-ins.csv"),
            "sign-in,worker,duties\nbosun,W-01046,\nnobody,W-99999,\npurser,W-01048,auditor\n");
    var loaded =
        Demo.running()
            .glenmoor("sign-ins", "load", file + "", "--password-file", directory + "/{}");
    assertThat(loaded.exit()).isEqualTo(1);
    assertThat(loaded.out()).contains("2 people can sign in.");
    assertThat(loaded.err()).contains("line 3: nobody: ", "W-99999").doesNotContain("line 2");
    assertThat(Demo.glenmoor("sign-ins", "list"))
        .contains("bosun", "purser", "auditor")
        .doesNotContain("nobody");
  }

  @Test
  void a_duty_for_one_application_is_given_seen_and_taken_at_the_command_line() throws Exception {
    var given =
        Demo.json(
            "duties", "give", "tomas", "application-owner:chartshare", "--reason", "he built it");
    assertThat(Demo.glenmoor("duties", "list")).contains("application-owner:chartshare");
    var seen = json(Demo.http(as("tomas", "/api/v1/applications")));
    assertThat(seen.path("items").valueStream().map(each -> each.path("key").asString()))
        .containsExactly("chartshare");
    Demo.glenmoor("duties", "end", given.path("id").asString(), "--reason", "he moved on");
    refused(Demo.http(as("tomas", "/api/v1/applications")), 403, "needs the duty");
    assertThat(Demo.glenmoor("duties", "list", "--ended")).contains("taken: he moved on");
  }

  @Test
  void a_stream_of_what_happens_ends_with_the_session() throws Exception {
    var proof = cookie(Demo.http(request("/api/v1/session")), "XSRF-TOKEN");
    var session = signedIn("anneli");
    var stream =
        Demo.open(request("/api/v1/flow/changes").header("Cookie", "glenmoor=" + session).GET());
    assertThat(stream.statusCode()).isEqualTo(200);
    var ended = new AtomicBoolean();
    Thread.ofVirtual()
        .start(() -> {
          try (var body = stream.body()) {
            body.transferTo(OutputStream.nullOutputStream());
          } catch (IOException broken) {
            // Ended all the same.
          }
          ended.set(true);
        });
    Demo.pause();
    assertThat(ended).isFalse();
    Demo.http(
        request("/api/v1/session")
            .header("Cookie", "glenmoor=%s; XSRF-TOKEN=%s".formatted(session, proof))
            .header("X-XSRF-TOKEN", proof)
            .DELETE());
    Demo.eventually("the stream has ended", ended::get);
  }

  @Test
  void work_of_somebody_else_is_not_shown() {
    var forecast =
        json(
            Demo.http(
                as("anneli", "/api/v1/feeds?forecast=true")
                    .setHeader("Content-Type", "text/csv")
                    .POST(BodyPublishers.ofString("Worker no\r\n"))));
    var id = forecast.path("id").asString();
    assertThat(Demo.http(as("anneli", "/api/v1/progress/" + id)).statusCode()).isEqualTo(200);
    refused(Demo.http(as("tam", "/api/v1/progress/" + id)), 404, "You have no work");
  }

  @Test
  void a_whole_list_is_a_file_at_the_command_line() throws Exception {
    var file = Files.createTempFile("people", ".csv");
    assertThat(Demo.glenmoor("export", "people", "--to", file.toString()))
        .contains("rows written to " + file);
    var total = Demo.json("people", "list", "--count").path("total").asInt();
    assertThat(Files.readAllLines(file))
        .hasSize(total + 1)
        .anyMatch(each -> each.contains("W-01007"));
    assertThat(Demo.refused("export", "crates", "--to", file.toString()))
        .contains("no list “crates”", "people");
    var nowhere = Demo.running().glenmoor("export", "people", "--to", "/nowhere/people.csv");
    assertThat(nowhere.exit()).isEqualTo(2);
    assertThat(nowhere.err()).contains("cannot be written");
  }

  @Test
  void lists_are_paged_by_key() {
    var first = json(Demo.http(as("isa", "/api/v1/people?limit=100")));
    var second =
        json(
            Demo.http(
                as("isa", "/api/v1/people?limit=100&after=" + first.path("next").asString())));
    assertThat(first.path("items")).hasSize(100);
    assertThat(second.path("items").get(0).path("name").asString())
        .isGreaterThan(first.path("items").get(0).path("name").asString());
    refused(Demo.http(as("isa", "/api/v1/people?limit=0")), 422, "limit must be");
  }

  @Test
  void definitions_that_are_wrong_are_refused_with_every_place() {
    var body =
        "{\"replace\":false,\"files\":[{\"name\":\"x.yaml\",\"text\":\"package: x\\nentitlements: [no/where]\\n---\\nbirthright: y\\npackage: z\\nwhere: person.x\\n\"}]}";
    var response =
        Demo.http(
            as("isa", "/api/v1/definitions")
                .expectContinue(true)
                .POST(BodyPublishers.ofString(body)));
    refused(response, 422, "things are wrong");
    assertThat(json(response).path("errors").valueStream().map(e -> e.path("pointer").asString()))
        .contains("x.yaml line 2", "x.yaml line 5", "x.yaml line 6");
  }

  @Test
  void what_is_not_there_says_so() {
    refused(Demo.http(as("isa", "/api/v1/people/W-99999")), 404, "W-99999");
    refused(Demo.http(as("isa", "/api/v1/operations/1")), 404, "no operation 1");
  }

  @Test
  void the_document_in_the_docs_is_the_one_the_service_gives() throws Exception {
    var given = json(Demo.http(request("/api/v1/openapi")));
    var root = Path.of(System.getenv("GLENMOOR_TEST_ROOT"));
    var kept = JsonMapper.shared().readTree(Files.readString(root.resolve("docs/openapi.json")));
    for (var part : List.of("/paths", "/components/schemas")) {
      var there = given.at(part);
      there
          .propertyNames()
          .forEach(name ->
              assertThat(kept.at(part).path(name))
                  .as("%s %s: write it anew with ./glenmoor api", part, name)
                  .isEqualTo(there.path(name)));
      assertThat(kept.at(part).propertyNames()).hasSameSizeAs(there.propertyNames());
    }
    assertThat(given.equals(kept)).as("write it anew with ./glenmoor api").isTrue();
  }

  @Test
  void health_and_metrics_are_there_for_machines_on_a_port_of_their_own() {
    var at = Demo.running().status().path("service").path("managementUrl").asString();
    assertThat(Demo.http(machine(at, "/actuator/health")).body()).contains("UP");
    assertThat(
            Demo.http(
                    machine(at, "/actuator/health/liveness")
                        .header("Cookie", "glenmoor=nobody")
                        .header("Authorization", "Bearer nonsense"))
                .body())
        .contains("\"status\":\"UP\"");
    assertThat(Demo.http(machine(at, "/actuator/prometheus")).body())
        .contains("jvm_memory_used_bytes");
    assertThat(Demo.http(machine(at, "/api/v1/session")).statusCode()).isEqualTo(404);
    for (var path : List.of("/actuator/health", "/actuator/prometheus")) {
      assertThat(Demo.http(request(path)).statusCode()).as(path).isEqualTo(404);
    }
  }

  private static HttpRequest.Builder machine(String at, String path) {
    return HttpRequest.newBuilder(URI.create(at + path));
  }
}
