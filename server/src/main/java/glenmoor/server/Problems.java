package glenmoor.server;

import glenmoor.engine.Refused;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.TypeMismatchException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.bind.MethodArgumentNotValidException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.WebRequest;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.server.ResponseStatusException;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.DatabindException;
import tools.jackson.databind.json.JsonMapper;

/** Says what went wrong as a problem document (RFC 9457). */
@RestControllerAdvice
class Problems extends ResponseEntityExceptionHandler {
  private static final Logger LOG = LoggerFactory.getLogger(Problems.class);
  private static final String TYPES = "/problems/";
  private final HeldBack heldBack = new HeldBack();

  @ExceptionHandler
  ResponseEntity<ProblemDetail> refused(Refused refused, HttpServletRequest request) {
    if (refused.reason() == Refused.Reason.TOO_MANY) {
      heldBack.pause();
    }
    var status =
        switch (refused.reason()) {
          case NOT_ALLOWED -> HttpStatus.FORBIDDEN;
          case NOT_THERE -> HttpStatus.NOT_FOUND;
          case BAD_INPUT -> HttpStatus.UNPROCESSABLE_CONTENT;
          case NOT_NOW -> HttpStatus.CONFLICT;
          case TOO_MANY -> HttpStatus.TOO_MANY_REQUESTS;
        };
    var word = refused.reason().name().toLowerCase().replace('_', '-');
    var problem = problem(status, word, String.valueOf(refused.getMessage()));
    if (!refused.mistakes().isEmpty()) {
      problem.setProperty("errors", errors(refused.mistakes()));
    }
    problem.setInstance(URI.create(request.getRequestURI()));
    return ResponseEntity.status(status).body(problem);
  }

  private static List<Map<String, String>> errors(List<Refused.Mistake> mistakes) {
    return mistakes.stream()
        .map(each -> Map.of("pointer", each.pointer(), "detail", each.sentence()))
        .toList();
  }

  @ExceptionHandler
  ResponseEntity<ProblemDetail> tooLarge(BodyLimits.TooLarge tooLarge) {
    return answer(HttpStatus.CONTENT_TOO_LARGE, "too-large", String.valueOf(tooLarge.getMessage()));
  }

  @ExceptionHandler
  ResponseEntity<ProblemDetail> tooSlow(BodyLimits.TooSlow tooSlow) {
    return answer(HttpStatus.REQUEST_TIMEOUT, "too-slow", String.valueOf(tooSlow.getMessage()));
  }

  /** What reads a body wraps what stopped it. */
  @Override
  protected @Nullable ResponseEntity<Object> handleHttpMessageNotReadable(
      HttpMessageNotReadableException unread,
      HttpHeaders headers,
      HttpStatusCode status,
      WebRequest request) {
    for (Throwable cause = unread; cause != null; cause = cause.getCause()) {
      if (cause instanceof BodyLimits.TooLarge tooLarge) {
        var answer = tooLarge(tooLarge);
        return ResponseEntity.status(answer.getStatusCode()).body(answer.getBody());
      }
      if (cause instanceof BodyLimits.TooSlow tooSlow) {
        var answer = tooSlow(tooSlow);
        return ResponseEntity.status(answer.getStatusCode()).body(answer.getBody());
      }
    }
    var sentence = "The body is no JSON that can be read here.";
    for (Throwable cause = unread; cause != null; cause = cause.getCause()) {
      if (cause instanceof DatabindException wrong && !wrong.getPath().isEmpty()) {
        var pointer = pointer(wrong);
        return mistakes(
            List.of(new Refused.Mistake(pointer, "%s cannot have this value.".formatted(pointer))));
      }
      if (cause instanceof StreamReadException broken && broken.getLocation() != null) {
        sentence =
            "The body is no JSON: it breaks at line %d, column %d."
                .formatted(broken.getLocation().getLineNr(), broken.getLocation().getColumnNr());
      }
    }
    return ResponseEntity.status(status)
        .body(problem(HttpStatus.valueOf(status.value()), "bad-input", sentence));
  }

  /** Where in a body a value is wrong (RFC 6901). */
  private static String pointer(DatabindException wrong) {
    return wrong.getPath().stream()
        .map(step ->
            "/" + (step.getPropertyName() == null ? step.getIndex() : step.getPropertyName()))
        .collect(Collectors.joining());
  }

  @Override
  protected @Nullable ResponseEntity<Object> handleMethodArgumentNotValid(
      MethodArgumentNotValidException invalid,
      HttpHeaders headers,
      HttpStatusCode status,
      WebRequest request) {
    return mistakes(
        invalid.getBindingResult().getFieldErrors().stream()
            .map(each -> "/" + each.getField().replace('.', '/').replaceAll("\\[(\\d+)]", "/$1"))
            .sorted()
            .map(pointer -> new Refused.Mistake(pointer, "%s is missing.".formatted(pointer)))
            .toList());
  }

  @Override
  protected @Nullable ResponseEntity<Object> handleTypeMismatch(
      TypeMismatchException wrong, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
    var name =
        wrong instanceof MethodArgumentTypeMismatchException argument
            ? argument.getName()
            : String.valueOf(wrong.getPropertyName());
    return mistakes(
        List.of(
            new Refused.Mistake(
                "/" + name, "%s is “%s”, which it cannot be.".formatted(name, wrong.getValue()))));
  }

  private static ResponseEntity<Object> mistakes(List<Refused.Mistake> mistakes) {
    var problem =
        problem(
            HttpStatus.UNPROCESSABLE_CONTENT,
            "bad-input",
            mistakes.stream().map(Refused.Mistake::sentence).collect(Collectors.joining(" ")));
    problem.setProperty("errors", errors(mistakes));
    return ResponseEntity.unprocessableContent().body(problem);
  }

  @ExceptionHandler
  ResponseEntity<ProblemDetail> unexpected(RuntimeException failed, HttpServletRequest request) {
    if (failed instanceof ResponseStatusException status) {
      var code = HttpStatus.valueOf(status.getStatusCode().value());
      return answer(code, "sign-in", String.valueOf(status.getReason()));
    }
    if (DatabaseAway.isAway(failed)) {
      throw failed;
    }
    LOG.error("{} {} failed", request.getMethod(), request.getRequestURI(), failed);
    return answer(
        HttpStatus.INTERNAL_SERVER_ERROR,
        "unexpected",
        "Something went wrong that should not: it is in the service's log, with the time "
            + Instant.now()
            + ".");
  }

  private static ResponseEntity<ProblemDetail> answer(
      HttpStatus status, String word, String sentence) {
    return ResponseEntity.status(status).body(problem(status, word, sentence));
  }

  private static ProblemDetail problem(HttpStatus status, String word, String sentence) {
    var problem = ProblemDetail.forStatusAndDetail(status, sentence);
    problem.setType(URI.create(TYPES + word));
    return problem;
  }

  /** Answers where no handler was reached. */
  static void write(HttpServletResponse response, HttpStatus status, String sentence)
      throws IOException {
    var word =
        switch (status) {
          case SERVICE_UNAVAILABLE -> "database-away";
          case CONTENT_TOO_LARGE -> "too-large";
          default -> "sign-in";
        };
    response.setStatus(status.value());
    response.setContentType("application/problem+json");
    response.setCharacterEncoding(StandardCharsets.UTF_8.name());
    response
        .getWriter()
        .write(
            JsonMapper.shared()
                .writeValueAsString(
                    Map.of(
                        "type",
                        TYPES + word,
                        "title",
                        status.getReasonPhrase(),
                        "status",
                        status.value(),
                        "detail",
                        sentence)));
  }
}
