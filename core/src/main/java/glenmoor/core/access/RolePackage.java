package glenmoor.core.access;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.NullMarked;

/**
 * A role package: entitlements bundled for a purpose.
 *
 * @param purpose in the words of those who ask for it
 * @param portfolio the one it is made of; empty for none
 * @param tags words by which it is found
 * @param retired that nobody is given it any more; nothing while they are
 */
@NullMarked
public record RolePackage(
    String key,
    String name,
    String purpose,
    List<String> entitlements,
    String portfolio,
    List<String> tags,
    Optional<Retirement> retired) {}
