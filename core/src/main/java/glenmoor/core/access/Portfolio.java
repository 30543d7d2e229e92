package glenmoor.core.access;

import java.util.List;
import org.jspecify.annotations.NullMarked;

/**
 * What one team looks after.
 *
 * @param entitlements keys of those that its packages may be made of, and of nothing else
 */
@NullMarked
public record Portfolio(String key, String name, List<String> entitlements) {}
