package glenmoor.standins.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.NamedCsvRecord;
import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.Executors;
import java.util.stream.Stream;

/**
 * An application that takes files: each row of a file in {@code out} says how one account shall be,
 * and once a file was taken it answers in {@code back} with all it has. {@code GET /accounts} shows
 * the same to whoever has the token, and {@code POST /control} says how it behaves: {@code well};
 * {@code away} takes nothing; {@code refuse} names a problem with every row; {@code forget} takes
 * and changes nothing; {@code cut} answers with half a file.
 */
public final class FileApplication implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final long LOOK_MILLIS = 100;
  private static final String SUM = ".sha256";

  private final String key;
  private final String token;
  private final Path out;
  private final Path back;
  private final Path kept;
  private final HttpServer server;
  private final TreeMap<String, Map<String, String>> accounts = new TreeMap<>();
  private final TreeSet<String> taken = new TreeSet<>();
  private volatile String mode = "well";
  private volatile String reason = "";
  private final Thread looking;
  private volatile boolean running = true;

  /**
   * Starts it.
   *
   * @param exchange the directory with {@code out} and {@code back}
   * @param directory where it keeps what it has
   * @param port 0 for a free one
   */
  public FileApplication(String key, Path exchange, Path directory, int port, String token)
      throws IOException {
    this.key = key;
    this.token = token;
    out = Files.createDirectories(exchange.resolve("out"));
    back = Files.createDirectories(exchange.resolve("back"));
    kept = directory.resolve(key + ".json");
    remember();
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext("/accounts", this::shown);
    server.createContext("/control", this::control);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.start();
    looking = Thread.ofVirtual().name(key).start(this::look);
  }

  public int port() {
    return server.getAddress().getPort();
  }

  /** How it behaves from now on. */
  public void behave(String how, String why) {
    mode = how;
    reason = why;
  }

  /** What it has, by worker numbers. */
  public synchronized Map<String, Map<String, String>> accounts() {
    return new TreeMap<>(accounts);
  }

  /** As if somebody had done something there by hand; null deletes. */
  public synchronized void change(String worker, Map<String, String> account) {
    if (account == null) {
      accounts.remove(worker);
    } else {
      accounts.put(worker, account);
    }
  }

  private void remember() throws IOException {
    if (!Files.exists(kept)) {
      return;
    }
    var all = JSON.readTree(kept.toFile());
    all.path("taken").forEach(each -> taken.add(each.asText()));
    all.path("accounts")
        .properties()
        .forEach(each -> accounts.put(each.getKey(), fields(each.getValue())));
  }

  private static Map<String, String> fields(JsonNode account) {
    var fields = new LinkedHashMap<String, String>();
    account.properties().forEach(each -> fields.put(each.getKey(), each.getValue().asText()));
    return fields;
  }

  private void look() {
    while (running) {
      try {
        Thread.sleep(LOOK_MILLIS);
        if (!mode.equals("away")) {
          for (var file : whole()) {
            take(file);
          }
        }
      } catch (IOException | UncheckedIOException failed) {
        System.err.println(key + " could not take a file: " + failed);
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  private List<Path> whole() throws IOException {
    try (Stream<Path> all = Files.list(out)) {
      return all.filter(file -> file.getFileName().toString().endsWith(".csv"))
          .filter(file -> !taken.contains(file.getFileName().toString()))
          .filter(file -> Files.exists(beside(file)))
          .sorted()
          .toList();
    }
  }

  private static Path beside(Path file) {
    return file.resolveSibling(file.getFileName() + SUM);
  }

  private synchronized void take(Path file) throws IOException {
    var name = file.getFileName().toString();
    if (!Files.readString(beside(file)).startsWith(sum(file))) {
      System.err.println(name + " does not agree with its sum");
      return;
    }
    var columns = new ArrayList<String>();
    var problems = new TreeMap<String, String>();
    try (var rows = CsvReader.builder().ofNamedCsvRecord(file)) {
      for (var row : rows) {
        columns.clear();
        columns.addAll(row.getHeader());
        take(row, problems);
      }
    }
    taken.add(name);
    JSON.writeValue(kept.toFile(), Map.of("accounts", accounts, "taken", taken));
    answer(name, columns, problems);
  }

  private void take(NamedCsvRecord row, Map<String, String> problems) {
    var worker = row.getField("worker");
    if (mode.equals("refuse")) {
      problems.put(worker, reason.isEmpty() ? "It is not wanted here." : reason);
    } else if (!mode.equals("forget")) {
      if (row.getField("state").equals("deleted")) {
        accounts.remove(worker);
      } else {
        accounts.put(worker, new LinkedHashMap<>(row.getFieldsAsMap()));
      }
    }
  }

  private void answer(String order, List<String> columns, Map<String, String> problems)
      throws IOException {
    var file = back.resolve(order.replaceFirst("\\.csv$", ".status.csv"));
    var part = back.resolve(order + ".part");
    try (var csv = CsvWriter.builder().build(part, StandardCharsets.UTF_8)) {
      csv.writeRecord(Stream.concat(columns.stream(), Stream.of("problem")).toList());
      var all = new TreeSet<>(accounts.keySet());
      all.addAll(problems.keySet());
      for (var worker : all) {
        var has = accounts.getOrDefault(worker, Map.of("worker", worker));
        var row = new ArrayList<String>();
        columns.forEach(column -> row.add(has.getOrDefault(column, "")));
        row.add(problems.getOrDefault(worker, ""));
        csv.writeRecord(row);
      }
    }
    var sum = sum(part);
    if (mode.equals("cut")) {
      var half = Files.readString(part);
      Files.writeString(part, half.substring(0, half.length() / 2));
    }
    Files.move(part, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    Files.writeString(beside(file), sum + "  " + file.getFileName() + "\n");
  }

  private static String sum(Path file) throws IOException {
    try {
      var digest = MessageDigest.getInstance("SHA-256").digest(Files.readAllBytes(file));
      return HexFormat.of().formatHex(digest);
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private void shown(HttpExchange exchange) throws IOException {
    send(exchange, isKnown(exchange) ? accounts() : Map.of("detail", "Who asks?"));
  }

  private void control(HttpExchange exchange) throws IOException {
    if (isKnown(exchange)) {
      var said = JSON.readTree(exchange.getRequestBody());
      behave(said.path("mode").asText("well"), said.path("reason").asText(""));
    }
    send(exchange, Map.of("application", key, "mode", mode));
  }

  private boolean isKnown(HttpExchange exchange) {
    return ("Bearer " + token).equals(exchange.getRequestHeaders().getFirst("Authorization"));
  }

  private void send(HttpExchange exchange, Object body) throws IOException {
    try (exchange) {
      var bytes = JSON.writeValueAsBytes(body);
      exchange.getResponseHeaders().set("Content-Type", "application/json");
      exchange.sendResponseHeaders(isKnown(exchange) ? 200 : 401, bytes.length);
      exchange.getResponseBody().write(bytes);
    }
  }

  @Override
  public void close() {
    running = false;
    server.stop(0);
    try {
      looking.join();
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }
}
