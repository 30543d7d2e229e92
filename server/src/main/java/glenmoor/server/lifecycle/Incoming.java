package glenmoor.server.lifecycle;

import glenmoor.server.ServiceSettings;
import glenmoor.server.Setting;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import org.springframework.stereotype.Component;

/**
 * Where files of people are kept while they are read: a directory of this service's own that nobody
 * else can look into, emptied at each start, so that a kill leaves nothing behind.
 */
@Component
class Incoming {
  private final Path directory;

  Incoming(ServiceSettings settings) {
    directory =
        Path.of(System.getProperty("java.io.tmpdir"))
            .resolve(
                "glenmoor-incoming-%s-%s"
                    .formatted(
                        System.getProperty("user.name"), settings.get(Setting.GLENMOOR_PORT)));
    try {
      Files.createDirectories(directory);
      Files.setPosixFilePermissions(directory, PosixFilePermissions.fromString("rwx------"));
      try (var left = Files.list(directory)) {
        for (var file : left.toList()) {
          Files.deleteIfExists(file);
        }
      }
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** Keeps a file, readable by this service alone; it is gone again if it cannot be kept whole. */
  Path take(InputStream content) throws IOException {
    var file =
        Files.createTempFile(
            directory,
            "feed",
            ".csv",
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    try {
      Files.copy(content, file, StandardCopyOption.REPLACE_EXISTING);
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
      return file;
    } catch (IOException cut) {
      Files.deleteIfExists(file);
      throw cut;
    }
  }
}
