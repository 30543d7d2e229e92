package glenmoor.core.access;

import java.util.List;
import org.jspecify.annotations.NullMarked;

/** A role package: entitlements bundled for a purpose. */
@NullMarked
public record RolePackage(String key, String name, String purpose, List<String> entitlements) {}
