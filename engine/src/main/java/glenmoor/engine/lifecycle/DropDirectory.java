package glenmoor.engine.lifecycle;

import java.nio.file.Path;
import java.util.Optional;

/**
 * Where all drop directories of sources are.
 *
 * @param path empty where there are none
 */
public record DropDirectory(Optional<Path> path) {}
