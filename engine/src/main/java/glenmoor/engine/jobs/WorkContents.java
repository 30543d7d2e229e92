package glenmoor.engine.jobs;

import glenmoor.store.jobs.JobMapper;
import jakarta.inject.Named;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.SequenceInputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Arrays;
import java.util.Enumeration;
import java.util.NoSuchElementException;
import java.util.zip.Deflater;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What long work is given besides its input, such as the file of a feed: packed in the database, in
 * parts, so that any replica can take the work up and nothing of it lies about on a disk.
 */
@Named
public final class WorkContents {
  private static final Logger LOG = LoggerFactory.getLogger(WorkContents.class);
  private static final int PART = 1 << 20;
  private static final String FILE = "glenmoor-work-";
  private static final Path TEMPORARY = Path.of(System.getProperty("java.io.tmpdir"));

  private final JobMapper mapper;

  public WorkContents(JobMapper mapper) {
    this.mapper = mapper;
    deleteLeft();
  }

  /** Deletes files of people that services left here which were killed meanwhile. */
  private static void deleteLeft() {
    try (var files = Files.newDirectoryStream(TEMPORARY, FILE + "*")) {
      for (var file : files) {
        var service = file.getFileName().toString().substring(FILE.length()).split("-", 2)[0];
        if (ProcessHandle.of(Long.parseLong(service)).isEmpty()) {
          Files.deleteIfExists(file);
        }
      }
    } catch (IOException | NumberFormatException left) {
      LOG.warn("Files of people may have been left in {}: {}", TEMPORARY, left.getMessage());
    }
  }

  /**
   * Keeps content as it comes; all of it or, where it breaks off, nothing.
   *
   * @throws IOException if it breaks off
   */
  void keep(long work, InputStream content) throws IOException {
    var whole = false;
    try (var zip = new Packed(new Parts(work))) {
      content.transferTo(zip);
      zip.finish();
      whole = true;
    } finally {
      if (!whole) {
        mapper.dropParts(work);
      }
    }
  }

  /** Where the file that work comes to is written. */
  OutputStream write(long work) throws IOException {
    mapper.dropParts(work);
    return new Packed(new Parts(work));
  }

  private static final class Packed extends GZIPOutputStream {
    Packed(OutputStream out) throws IOException {
      super(out, 1 << 16);
      def.setLevel(Deflater.BEST_SPEED);
    }
  }

  private final class Parts extends OutputStream {
    private final long work;
    private final byte[] part = new byte[PART];
    private int filled;
    private int number;

    Parts(long work) {
      this.work = work;
    }

    @Override
    public void write(int one) {
      write(new byte[] {(byte) one}, 0, 1);
    }

    @Override
    public void write(byte[] bytes, int offset, int length) {
      var from = offset;
      var left = length;
      while (left > 0) {
        var now = Math.min(left, PART - filled);
        System.arraycopy(bytes, from, part, filled, now);
        filled += now;
        from += now;
        left -= now;
        if (filled == PART) {
          send();
        }
      }
    }

    private void send() {
      if (filled > 0) {
        mapper.addPart(work, number++, Arrays.copyOf(part, filled));
        filled = 0;
      }
    }

    /** A stream that breaks off is closed too: its last part is dropped with the others. */
    @Override
    public void close() {
      send();
    }
  }

  /** The content of work, to be read once; a part at a time is in memory. */
  public InputStream read(long work) {
    try {
      return new GZIPInputStream(new SequenceInputStream(new Reading(work)), 1 << 16);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private final class Reading implements Enumeration<InputStream> {
    private final long work;
    private int number;
    private JobMapper.@Nullable Part next;

    Reading(long work) {
      this.work = work;
      next = mapper.part(work, 0);
    }

    @Override
    public boolean hasMoreElements() {
      return next != null;
    }

    @Override
    public InputStream nextElement() {
      var now = next;
      if (now == null) {
        throw new NoSuchElementException();
      }
      next = mapper.part(work, ++number);
      return new ByteArrayInputStream(now.bytes());
    }
  }

  /** Content as a file that this service alone can read; whoever asks for it deletes it. */
  public static Path file(InputStream content) {
    try (content) {
      var file =
          Files.createTempFile(TEMPORARY, FILE + ProcessHandle.current().pid() + "-", ".csv");
      Files.copy(content, file, StandardCopyOption.REPLACE_EXISTING);
      return file;
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** Deletes such a file; one that cannot be deleted is told of in the log. */
  public static void delete(@Nullable Path file) {
    try {
      if (file != null) {
        Files.deleteIfExists(file);
      }
    } catch (IOException left) {
      LOG.warn("A file of people could not be deleted: {}", file);
    }
  }

  void drop(long work) {
    mapper.dropParts(work);
  }
}
