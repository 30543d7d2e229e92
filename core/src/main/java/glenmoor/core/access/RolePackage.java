package glenmoor.core.access;

import java.util.List;

/** A role package: entitlements bundled for a purpose. */
public record RolePackage(String key, String name, String purpose, List<String> entitlements) {}
