package glenmoor.connect.exchange;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.apache.commons.codec.digest.DigestUtils;
import org.jspecify.annotations.Nullable;

/**
 * The directory through which files are exchanged with one application: {@code out} is written here
 * and read there, {@code back} the other way round.
 *
 * <p>A file is an order, {@code KEY-20270302T030000000Z.csv}, or its answer, the same name with
 * {@code .status.csv}; the time in it is UTC. A file counts once a line as sha256sum(1) writes it
 * stands beside it, in a file with {@code .sha256} after its name, and agrees with it: one that is
 * still being written, or was cut on its way, is none.
 */
public final class ExchangeFolder {
  private static final DateTimeFormatter STAMP =
      DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmssSSS'Z'").withZone(ZoneOffset.UTC);
  private static final Pattern ANSWER = Pattern.compile("(.+)-(\\d{8}T\\d{9}Z)\\.status\\.csv");
  private static final Pattern ORDER = Pattern.compile("(.+)-(\\d{8}T\\d{9}Z)\\.csv");
  private static final String SUM = ".sha256";

  private final String application;
  private final Path out;
  private final Path back;

  /** Nothing can be written to or read from the directory just now. */
  public static final class CannotExchange extends RuntimeException {
    public CannotExchange(String sentence) {
      super(sentence);
    }
  }

  /**
   * An answer of the application.
   *
   * @param order the name of the file that it answers
   * @param at the moment in that name
   * @param modified when it was last written, and so whether it is still the same
   */
  public record Answer(String order, Instant at, Path file, FileTime modified) {}

  public ExchangeFolder(String application, Path directory) {
    this.application = application;
    out = directory.resolve("out");
    back = directory.resolve("back");
  }

  /** The name of an order written at a moment, to the millisecond. */
  public static String name(String application, Instant at) {
    return "%s-%s.csv".formatted(application, STAMP.format(at));
  }

  /**
   * Writes an order. It appears as a whole, or not at all.
   *
   * @param rows gives the heading and the rows
   * @throws CannotExchange if it cannot be written
   */
  public void write(String name, Consumer<CsvWriter> rows) {
    try {
      Files.createDirectories(out);
      Files.createDirectories(back);
      var part = out.resolve(name + ".part");
      try (var csv = CsvWriter.builder().build(part, StandardCharsets.UTF_8)) {
        rows.accept(csv);
      }
      var file = out.resolve(name);
      Files.move(part, file, StandardCopyOption.ATOMIC_MOVE);
      Files.writeString(out.resolve(name + SUM), sum(file) + "  " + name + "\n");
    } catch (IOException | UncheckedIOException failed) {
      throw cannot("written", failed);
    }
  }

  /**
   * The newest answer that agrees with its sum.
   *
   * @param known one that was found to agree before, which is not looked at again
   * @throws CannotExchange if the directory cannot be read
   */
  Optional<Answer> newestAnswer(@Nullable Answer known) {
    if (!Files.isDirectory(back)) {
      return Optional.empty();
    }
    try (Stream<Path> all = Files.list(back)) {
      return all.filter(file -> Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS))
          .flatMap(file -> answer(file).stream())
          .sorted(Comparator.comparing(Answer::at).reversed())
          .filter(answer -> answer.equals(known) || agrees(answer.file()))
          .findFirst();
    } catch (IOException | UncheckedIOException failed) {
      throw cannot("read", failed);
    }
  }

  /** How many orders are newer than this moment, and so are not answered. */
  public int ordersAfter(Instant at) {
    if (!Files.isDirectory(out)) {
      return 0;
    }
    try (Stream<Path> all = Files.list(out)) {
      return (int)
          all.map(file -> ORDER.matcher(String.valueOf(file.getFileName())))
              .filter(found -> found.matches() && found.group(1).equals(application))
              .flatMap(found -> stamp(found.group(2)).stream())
              .filter(stamp -> stamp.isAfter(at))
              .count();
    } catch (IOException failed) {
      throw cannot("read", failed);
    }
  }

  /**
   * Looks whether files can be written and read.
   *
   * @throws CannotExchange if not
   */
  public void test() {
    try {
      Files.createDirectories(out);
      Files.createDirectories(back);
    } catch (IOException failed) {
      throw cannot("written", failed);
    }
    if (!Files.isWritable(out) || !Files.isReadable(back)) {
      throw new CannotExchange(
          "out cannot be written or back cannot be read in its directory %s"
              .formatted(out.getParent()));
    }
  }

  private Optional<Answer> answer(Path file) {
    var found = ANSWER.matcher(String.valueOf(file.getFileName()));
    if (!found.matches() || !found.group(1).equals(application)) {
      return Optional.empty();
    }
    try {
      var modified = Files.getLastModifiedTime(file, LinkOption.NOFOLLOW_LINKS);
      var order = found.group(1) + "-" + found.group(2) + ".csv";
      return stamp(found.group(2)).map(at -> new Answer(order, at, file, modified));
    } catch (IOException gone) {
      return Optional.empty();
    }
  }

  private static Optional<Instant> stamp(String text) {
    try {
      return Optional.of(Instant.from(STAMP.parse(text)));
    } catch (DateTimeException none) {
      return Optional.empty();
    }
  }

  /** Whether a file is whole: its sum stands beside it, and is right. */
  private static boolean agrees(Path file) {
    var beside = file.resolveSibling(file.getFileName() + SUM);
    try {
      if (!Files.isRegularFile(beside, LinkOption.NOFOLLOW_LINKS)) {
        return false;
      }
      var said = Files.readString(beside, StandardCharsets.ISO_8859_1).strip().split("\\s", 2);
      return said[0].equalsIgnoreCase(sum(file));
    } catch (IOException gone) {
      return false;
    }
  }

  private static String sum(Path file) throws IOException {
    try (var in = Files.newInputStream(file)) {
      return DigestUtils.sha256Hex(in);
    }
  }

  private CannotExchange cannot(String done, Exception failed) {
    return new CannotExchange(
        "Its directory %s cannot be %s: %s"
            .formatted(out.getParent(), done, failed.getClass().getSimpleName()));
  }

  /** The rows of a list of columns, in the order in which they are written. */
  public static List<String> headings(List<String> attributes) {
    return Stream.of(List.of("worker", "account", "state"), attributes, List.of("rights"))
        .flatMap(List::stream)
        .toList();
  }
}
