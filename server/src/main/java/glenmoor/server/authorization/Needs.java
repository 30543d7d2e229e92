package glenmoor.server.authorization;

import glenmoor.core.authorization.Permission;
import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * What somebody must be allowed, somewhere, before a request is read any further. To which thing
 * exactly they may do it is asked by the use case.
 */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.METHOD)
public @interface Needs {
  /** Any one of them will do. */
  Permission[] value();
}
